import { humpTorque } from '../../../trials/knownPull'
import { normal, random } from '../../../trials/knownTruthLog'
import { median } from '../../numbers/median'
import { welch } from '../../numbers/welch'
import { compareSets } from './compare'
import { gainsTable, type Gain } from './gains'
import { binRpm, type CurveRuler } from '../lay/ruler'

const RULER: CurveRuler = { first: 3000, step: 100, count: 61 }
const CHOICE = { quantity: 'torque', bands: [{ fromRpm: 4000, toRpm: 7000 }], at: [5000, 5240] } as const
/** What a run is off by as a whole and from bin to bin, shares; standard deviations. */
const [LEVEL, SHAPE] = [0.009, 0.005]

/** Runs of one side; each is off by a level of its own, and by a little in each bin. */
function runsOf(next: () => number, count: number, gain: number): Float32Array[] {
  return Array.from({ length: count }, () => {
    const level = 1 + LEVEL * normal(next)
    return Float32Array.from(
      { length: RULER.count },
      (_, bin) => gain * humpTorque(binRpm(RULER, bin)) * level * (1 + SHAPE * normal(next)),
    )
  })
}
const at5000 = 20
const SETS = Array.from({ length: 200 }, (_, seed) => {
  const next = random(70 + seed)
  return [runsOf(next, 3, 1), runsOf(next, 3, 1.03)] as const
})
const LINES = SETS.map(([first, second]) => gainsTable(first, second, RULER, CHOICE))

/** What a line would say without any error: both curves have their peak where the hump has. */
const truth = gainsTable(
  [Float32Array.from({ length: RULER.count }, (_, bin) => humpTorque(binRpm(RULER, bin)))],
  [Float32Array.from({ length: RULER.count }, (_, bin) => 1.03 * humpTorque(binRpm(RULER, bin)))],
  RULER,
  CHOICE,
)

it.each(['mean over a band', 'area over a band', 'at an rpm'] as const)(
  'the interval of a gain holds the true one nine times of ten: %s',
  (what) => {
    const covers = ({ low, high }: Gain, k: number): boolean =>
      low! <= truth[k]!.difference && truth[k]!.difference <= high!
    const all = LINES.flatMap((lines) => lines.flatMap((line, k) => (line.what === what ? [covers(line, k)] : [])))
    const share = all.filter(Boolean).length / all.length
    expect(share).toBeGreaterThan(0.85)
    expect(share).toBeLessThan(0.98)
  },
)

it('three runs a side tell a figure better than by their own spread at that figure alone', () => {
  const width = ({ low, high }: { low: number | null; high: number | null }): number => high! - low!
  const ours = median(
    LINES.map((lines) => width(lines.find((line) => line.rpm?.[0] === 5000 && line.what === 'at an rpm')!)),
  )
  const alone = median(
    SETS.map(([first, second]) =>
      width(
        welch(
          first.map((run) => run[at5000]!),
          second.map((run) => run[at5000]!),
        ),
      ),
    ),
  )
  expect(ours).toBeLessThan(0.85 * alone)
})

it('the table says of an engine speed what the chart says there', () => {
  SETS.slice(0, 20).forEach(([first, second], k) => {
    const { low, high } = compareSets(first, second, RULER)
    const line = LINES[k]!.find((one) => one.what === 'at an rpm' && one.rpm![0] === 5000)!
    expect(line.low).toBeCloseTo(low[at5000]!, 4)
    expect(line.high).toBeCloseTo(high[at5000]!, 4)
  })
})
