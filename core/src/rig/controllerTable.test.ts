import { fitsController, nameAsFound, workingTable } from './controllerTable'

const table = (name: string, cylinder: number | null = null, rpm = [2000, 4000]) => ({
  name,
  cylinder,
  table: { kind: 'fuel base' as const, rpm, load: [20, 60] },
})
const inside = table('Fuel')

describe('a job beside the controller', () => {
  it.each([
    ['the same', table('Any'), true],
    ['another cylinder', table('Any', 1), false],
    ['other breakpoints', table('Any', null, [2000, 4500]), false],
    ['another kind', { ...inside, table: { ...inside.table, kind: 'spark base' as const } }, false],
  ])('%s', (_what, one, fits) => expect(fitsController(one, inside)).toBe(fits))
  it('works on the first that fits and is not kept as it was found', () => {
    const own = table('Mine')
    expect(workingTable([table('Rear', 2), table(nameAsFound('Fuel')), own], inside)).toBe(own)
    expect(workingTable([table(nameAsFound('Fuel'))], inside)).toBeUndefined()
  })
})

describe('plates of several riding modes, which look alike', () => {
  const plate = (name: string) => ({ ...table(name), table: { ...inside.table, kind: 'plate' as const } })
  it('go by their name and by nothing else', () => {
    const [first, second] = [plate('Plate, mode 1'), plate('Plate, mode 2')]
    expect(workingTable([first, second], plate('Plate, mode 2'))).toBe(second)
    expect(workingTable([first], plate('Plate, mode 2'))).toBeUndefined()
  })
})
