import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { answerWay, type Wanted, type WayTold } from '@yuzumix/core'
import { seededRandom } from '../core/src/numbers/random'
import type { Measured } from './measured'
import { python } from './python'

const MOST_OVER = 1.05
const MOST_OF_EVEN = 0.75
const MOST_MS = 2000
const POINTS = { rpmPoints: 6, loadPoints: 6 }
/** surfaces, and seconds that the general optimiser has for each */
const SURFACES = Number(process.env['YUZUMIX_WAYS'] ?? 2)
const SECONDS = Number(process.env['YUZUMIX_WAYS_SECONDS'] ?? 20)

const rpm = Array.from({ length: 18 }, (_, k) => 1500 + 500 * k)
const load = [2, 5, 10, 15, 20, 30, 40, 60, 80, 90, 100]

/** A wanted change like those of engines: pipe ripples that fade as the plate shuts, a slope, and a step where a flap opens. */
function wantedSurface(seed: number): Wanted {
  const random = seededRandom(seed)
  const between = (low: number, high: number): number => low + (high - low) * random.uniform()
  const ripples = Array.from({ length: 4 }, () => ({
    at: between(2000, 9500),
    wide: between(400, 1300),
    high: between(-5, 8),
    from: between(0, 60),
    fade: between(10, 40),
  }))
  const [slope, step, opens] = [between(-3, 3), between(-3, 3), between(3500, 7500)]
  const pct = (x: number, y: number): number =>
    ripples.reduce(
      (sum, one) => {
        const open = 1 / (1 + Math.exp((one.from - y) / one.fade))
        return sum + one.high * open * Math.exp(-(((x - one.at) / one.wide) ** 2) / 2)
      },
      (slope * y) / 100,
    ) +
    step * Math.min(1, Math.max(0, (x - opens) / 600))
  return {
    rpm,
    load,
    loadAxis: 'throttle',
    pct: load.map((y) => rpm.map((x) => pct(x, y))),
    weight: load.map(() => rpm.map(() => 1)),
  }
}

const evenly = (from: number, to: number, count: number): number[] =>
  Array.from({ length: count }, (_, k) => from + ((to - from) * k) / (count - 1))

/** Places of a coarse table against a general global optimiser, and against places put evenly. */
export async function coarseAgainstScipy(folder: string): Promise<Measured[]> {
  const surfaces = Array.from({ length: SURFACES }, (_, k) => wantedSurface(7001 + k))
  const file = join(folder, 'surfaces.json')
  await writeFile(file, JSON.stringify({ ...POINTS, rpmStep: 250, loadStep: 1, surfaces }))
  const general = python<{ costPct: number }[]>('ways.py', [file, String(SECONDS)])
  const cost = ({ left }: WayTold): number => left.costPct
  const rows = surfaces.map((wanted, k) => {
    const start = performance.now()
    const own = cost(answerWay(wanted, { kind: 'coarse', ...POINTS }))
    const took = performance.now() - start
    const [low, high] = [evenly(rpm[0]!, rpm.at(-1)!, 6), evenly(load[0]!, load.at(-1)!, 6)]
    const even = cost(answerWay(wanted, { kind: 'coarse', ...POINTS, rpm: low, load: high }))
    return { took, over: own / general[k]!.costPct, ofEven: own / even }
  })
  const most = (of: 'took' | 'over' | 'ofEven'): number => Math.max(...rows.map((one) => one[of]))
  return [
    {
      what: `places of a coarse table, cost over differential evolution's`,
      value: `${most('over').toFixed(3)} at most on ${SURFACES} surfaces, ${SECONDS} s each`,
      budget: `${MOST_OVER}`,
      met: most('over') <= MOST_OVER,
    },
    {
      what: 'the same, cost over places put evenly',
      value: `${most('ofEven').toFixed(3)} at most`,
      budget: `${MOST_OF_EVEN}`,
      met: most('ofEven') <= MOST_OF_EVEN,
    },
    {
      what: 'the same, time',
      value: `${most('took').toFixed(0)} ms at most`,
      budget: `${MOST_MS} ms`,
      met: most('took') <= MOST_MS,
    },
  ]
}
