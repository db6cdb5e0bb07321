import { CHANNELS, channelKind, channelTitle } from '../run/channels'
import { uniqueHeaders } from './head'
import { headerSignature, plainHeader, recogniseColumns, recogniseHeader, unknownUnit, withOthers } from './recognise'

describe('headers', () => {
  it.each([
    ['Time (s)', 'time', 's'],
    ['Engine speed [rpm]', 'rpm', 'rpm'],
    ['RPM', 'rpm', 'rpm'],
    ['EngineSpeed', 'rpm', 'rpm'],
    ['RPM x1000', 'rpm', 'krpm'],
    ['Revs / 1000', 'rpm', 'krpm'],
    ['TPS', 'throttle', '%'],
    ['throttle_position_pct', 'throttle', 'pct'],
    ['Lambda 2', 'lambda2', 'λ'],
    ['AFR', 'lambda1', 'AFR'],
    ['Air/Fuel Ratio', 'lambda1', 'AFR'],
    ['wideband lambda rear', 'lambda2', 'λ'],
    ['MAP (kPa)', 'manifold', 'kPa'],
    ['MAP [psi]', 'manifold', 'psi'],
    ['coolant_degF', 'coolant', 'degf'],
    ['ECT (°C)', 'coolant', '°C'],
    ['Torque (lb·ft)', 'torque', 'lb·ft'],
    ['Power (hp)', 'power', 'hp'],
    ['O2 voltage', 'narrowband1', 'V'],
    ['lambda (V)', 'narrowband1', 'V'],
    ['STFT', 'trimShort', '%'],
    ['Gear', 'gear', ''],
    ['Spark advance (°)', 'spark', '°'],
  ])('%s is %s in %s', (header, channel, unit) => expect(recogniseHeader(header)).toEqual({ channel, unit }))
  it.each([
    ['Target lambda', 'λ'],
    ['lambda target', 'λ'],
    ['commanded AFR', 'AFR'],
    ['AFR Target', 'AFR'],
    ['Lambda Soll', 'λ'],
  ])('%s is what was commanded, never what was measured', (header, unit) =>
    expect(recogniseHeader(header)).toEqual({ channel: 'commanded', unit }),
  )
  it.each(['notes', 'AFR error', '', 'throttle target'])('%s is nothing', (header) =>
    expect(recogniseHeader(header)).toBeNull(),
  )
  it('two unnumbered lambda columns become two cylinders, a repeated rpm only one', () => {
    const mapping = recogniseColumns(uniqueHeaders(['rpm', 'lambda', 'lambda', 'rpm']))
    expect(Object.values(mapping).map((one) => one?.channel)).toEqual(['rpm', 'lambda1', 'lambda2', 'other1'])
    expect(recogniseColumns(['AFR front', 'AFR rear', 'rpm'])['AFR rear']?.channel).toBe('lambda2')
  })
  it('names that say nothing: values tell what is missing, marked as a guess; where two columns look alike nothing is told', () => {
    const rows = Array.from({ length: 40 }, (_, i) => [
      i / 20,
      4500 + 1500 * Math.sin(i / 8),
      0.88 + 0.02 * Math.sin(i / 3),
      45 + 30 * Math.sin(i / 9),
      12.4 + 0.01 * (i % 3),
    ])
    const headers = ['Channel 1', 'Channel 2', 'Channel 3', 'Channel 4', 'Channel 5']
    expect(Object.values(recogniseColumns(headers, [], rows))).toEqual([
      { channel: 'time', unit: '', guessed: true },
      { channel: 'rpm', unit: 'rpm', guessed: true },
      { channel: 'lambda1', unit: 'λ', guessed: true },
      { channel: 'throttle', unit: '%', guessed: true },
      // A voltage of a battery is no AFR.
      { channel: 'other1', unit: '' },
    ])
    const twice = rows.map((row) => [...row, row[1]!])
    const told = recogniseColumns([...headers, 'Channel 6'], [], twice)
    expect([told['Channel 2'], told['Channel 6']].map((one) => one?.channel)).toEqual(
      ['other2', 'other4'].map(() => expect.stringMatching(/^other/)),
    )
    // A name that says something else is not overruled by values.
    expect(recogniseColumns(['Channel 1', 'Fuel level'], [], rows)['Fuel level']).toEqual({
      channel: 'other1',
      unit: '',
    })
  })
  it('every column that is not understood is kept with its unit, but for those somebody left out', () => {
    const headers = ['rpm', 'Fuel level [l]', 'Lean angle']
    expect(withOthers(headers, { rpm: { channel: 'rpm', unit: 'rpm' }, 'Lean angle': null }, [], false)).toEqual({
      rpm: { channel: 'rpm', unit: 'rpm' },
      'Fuel level [l]': { channel: 'other1', unit: 'l' },
      'Lean angle': null,
    })
    const many = Array.from({ length: 90 }, (_, k) => `thing ${k}`)
    expect(Object.values(withOthers(many, {})).filter(Boolean)).toHaveLength(60)
  })
  it('every channel has a title and a kind', () => {
    for (const channel of CHANNELS) {
      expect(channelKind(channel)).toBeDefined()
      expect(channelTitle(channel)).not.toBe(channel)
    }
    expect(channelKind('lambda')).toBeUndefined()
    expect(channelKind('rpm1')).toBeUndefined()
  })
  it('signatures tell header lists apart', () => {
    expect(headerSignature(['a', 'b'])).toBe(headerSignature([' a', 'b ']))
    expect(headerSignature(['a,b'])).not.toBe(headerSignature(['a', 'b']))
    expect(plainHeader('EngineSpeed_2')).toBe('engine speed 2')
  })
  it('the air is recognised', () => {
    const names = ['Ambient temp (°C)', 'Baro pressure (hPa)', 'Humidity (%)', 'Intake air temp (°C)']
    expect(names.map((one) => recogniseHeader(one)?.channel)).toEqual(['ambient', 'barometer', 'humidity', 'intake'])
  })
})

describe('a unit that a channel does not have', () => {
  it.each([
    'TPS (V)',
    'Throttle [deg]',
    'throttle (raw)',
    'MAP (V)',
    'Coolant (kPa)',
    'Lambda (%)',
    'torque (elephants)',
  ])('%s: what it means is not guessed, and that is said', (header) => {
    expect(recogniseHeader(header)).toBeNull()
    expect(unknownUnit(header)).toMatch(
      /a unit that is not known here: it is kept under its own name, .+ Known are .+; map the column/,
    )
  })
  it.each([
    ['Lambda (F)', 'lambda1'],
    ['AFR (filtered)', 'lambda1'],
    ['Throttle (front)', 'throttle'],
    ['RPM (crank)', 'rpm'],
    ['TPS (ratio)', 'throttle'],
    ['Time (h)', 'time'],
    ['TPS (%)', 'throttle'],
  ])('%s: a note in brackets is none', (header, channel) => {
    expect(recogniseHeader(header)?.channel).toBe(channel)
    expect(unknownUnit(header)).toBeNull()
  })
  it('may stand in the row under the header; a header that says nothing is no matter', () => {
    expect(recogniseHeader('TPS', 'V')).toBeNull()
    expect(unknownUnit('TPS', 'V')).toMatch(/looks like throttle in "V"/)
    expect(unknownUnit('Notes (V)')).toBeNull()
    expect(recogniseHeader('Battery (V)')).toEqual({ channel: 'battery', unit: 'V' })
  })
})
