import type { Understood, Word } from './headerWords'

/** Words that a header must have to mean a channel, and those that it may have besides. */
interface Rule {
  channel: string
  must: readonly Word[]
  may?: readonly Word[]
  /** taken only where a unit is said that the channel has */
  byUnit?: true
}

const SIDES: readonly Word[] = ['cylinder', 'front', 'rear', 'left', 'right']
const rule = (channel: string, must: readonly Word[], ...may: Word[]): Rule => ({ channel, must, may })
const sided = (channel: string, must: readonly Word[], ...may: Word[]): Rule => ({
  channel,
  must,
  may: [...SIDES, ...may],
})

/** In the order in which they are tried. */
const RULES: readonly Rule[] = [
  rule('commanded', ['lambda', 'target'], 'wideband'),
  rule('handRange', ['hand', 'range']),
  sided('pulse', ['injector', 'pulse'], 'fuel', 'time'),
  sided('pulse', ['pulse width'], 'injector', 'fuel'),
  sided('pulse', ['injector', 'time'], 'fuel'),
  sided('pulse', ['fuel', 'pulse']),
  sided('duty', ['injector', 'duty'], 'fuel'),
  sided('duty', ['injector duty']),
  rule('time', ['time'], 'gps', 'session', 'relative', 'date'),
  rule('drum', ['drum'], 'speed', 'rpm'),
  rule('rpm', ['rpm'], 'engine', 'speed'),
  rule('rpm', ['engine', 'speed']),
  { channel: 'rpm', must: ['speed'], byUnit: true },
  rule('mode', ['mode'], 'ride', 'power', 'throttle', 'engine', 'vehicle'),
  rule('mode', ['map', 'engine']),
  rule('mode', ['map', 'ride']),
  rule('mode', ['map', 'power']),
  rule('grip', ['grip'], 'position', 'throttle', 'gas'),
  rule('throttle', ['throttle'], 'position', 'manifold'),
  rule('throttle', ['gas'], 'position'),
  sided('lambda', ['lambda'], 'wideband', 'oxygen', 'exhaust'),
  sided('lambda', ['wideband'], 'oxygen', 'exhaust'),
  sided('narrowband', ['narrowband'], 'oxygen', 'voltage', 'lambda'),
  { channel: 'lambda', must: ['oxygen'], may: SIDES, byUnit: true },
  sided('narrowband', ['oxygen'], 'voltage'),
  rule('fuelPressure', ['fuel', 'pressure'], 'rail'),
  rule('fuelPressure', ['rail', 'pressure']),
  rule('oilPressure', ['oil', 'pressure'], 'engine'),
  rule('barometer', ['barometer'], 'pressure', 'air'),
  rule('barometer', ['ambient', 'pressure'], 'air'),
  rule('barometer', ['air', 'pressure']),
  rule('manifold', ['map'], 'pressure', 'manifold', 'intake', 'air'),
  rule('manifold', ['manifold', 'pressure'], 'intake', 'air'),
  rule('manifold', ['intake', 'pressure'], 'air'),
  rule('manifold', ['manifold']),
  sided('exhaust', ['exhaust temperature'], 'temperature', 'gas'),
  sided('exhaust', ['exhaust', 'temperature'], 'gas'),
  rule('head', ['head temperature'], 'temperature', 'cylinder'),
  rule('head', ['head', 'temperature'], 'cylinder'),
  rule('oil', ['oil', 'temperature'], 'engine'),
  rule('coolant', ['coolant'], 'temperature', 'engine'),
  rule('coolant', ['engine', 'temperature']),
  rule('ambient', ['ambient'], 'temperature', 'air'),
  rule('intake', ['intake air'], 'temperature', 'air', 'intake', 'manifold'),
  rule('intake', ['intake'], 'air', 'temperature'),
  rule('intake', ['air', 'temperature'], 'manifold', 'intake'),
  rule('intake', ['manifold', 'temperature']),
  rule('trimShort', ['short trim'], 'fuel', 'trim', 'cylinder'),
  rule('trimShort', ['short', 'trim'], 'term', 'fuel', 'cylinder'),
  rule('trimLong', ['long trim'], 'fuel', 'trim', 'cylinder'),
  rule('trimLong', ['long', 'trim'], 'term', 'fuel', 'cylinder'),
  rule('knock', ['knock'], 'level'),
  rule('spark', ['ignition'], 'advance', 'position'),
  rule('spark', ['advance'], 'position'),
  rule('battery', ['battery'], 'voltage'),
  rule('humidity', ['humidity'], 'relative', 'air'),
  rule('torque', ['torque'], 'engine', 'vehicle'),
  rule('power', ['power'], 'engine', 'vehicle'),
  rule('gear', ['gear'], 'position', 'speed', 'current'),
  rule('latitude', ['latitude'], 'gps', 'position'),
  rule('longitude', ['longitude'], 'gps', 'position'),
  rule('longitude', ['long'], 'gps'),
  rule('altitude', ['altitude'], 'gps'),
  rule('speed', ['vehicle speed'], 'speed', 'gps', 'vehicle', 'front'),
  rule('speed', ['speed'], 'vehicle', 'gps', 'front'),
]

/** Channels that have a number of their own by cylinder or bank. */
const NUMBERED = new Set(['lambda', 'narrowband', 'exhaust', 'duty', 'pulse'])
const MOST_CYLINDERS = 4

/** A channel that a header means, with its number; `byUnit` where that hangs on its unit. */
export interface Meaning {
  channel: string
  byUnit: boolean
}

/**
 * Channels that a header may mean, the likeliest first; none where a word of it is not known, or the number in it belongs to
 * nothing: what is not understood whole is not taken.
 */
export function meaningsOf({ words, numbers, isWhole }: Understood): Meaning[] {
  if (!isWhole || words.length === 0 || numbers.length > 1) return []
  const fits = ({ must, may = [] }: Rule): boolean =>
    must.every((word) => words.includes(word)) && words.every((word) => must.includes(word) || may.includes(word))
  return RULES.filter(fits).flatMap(({ channel, byUnit = false }): Meaning[] => {
    if (!NUMBERED.has(channel)) return (numbers[0] ?? 1) === 1 ? [{ channel, byUnit }] : []
    const side = words.includes('rear') || words.includes('right') ? 2 : 1
    const number = numbers[0] ?? side
    return number >= 1 && number <= MOST_CYLINDERS ? [{ channel: `${channel}${number}`, byUnit }] : []
  })
}
