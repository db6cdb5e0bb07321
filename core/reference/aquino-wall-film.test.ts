/** The wall film and the sensor against their step responses in closed form (Aquino, SAE 810494: the X-tau model; a first-order lag). */
import { sensorTrace } from '../src/response/film/sensorTrace'
import { afterStep, decaying } from '../src/response/film/wallFilm'
import { filmCycle, type WallFilm } from '../src/simulator/wallFilm'

const H = 0.01
const times = Array.from({ length: 100 }, (_, k) => k * H)

test('growth in one step decays as an exponential', () => {
  const step = times.map((t) => (t > 0 ? 1 : 0))
  const found = decaying(step, 0.3, H)
  // What came during the first step has decayed over half of it: exact to the second order of H / tau.
  times.slice(1).forEach((t, k) => expect(found[k + 1]!).toBeCloseTo(Math.exp(-(t - H / 2) / 0.3), 6))
})

test('growth along a ramp decays as the integral says', () => {
  const ramp = 0.2
  const found = decaying(
    times.map((t) => Math.min(1, t / ramp)),
    0.3,
    H,
  )
  const exact = (t: number): number => {
    const end = Math.min(t, ramp)
    return (0.3 / ramp) * (Math.exp(-(t - end) / 0.3) - Math.exp(-t / 0.3))
  }
  times.forEach((t, k) => expect(Math.abs(found[k]! - exact(t))).toBeLessThan(2e-4))
})

test('the closed form is what a film integrated cycle by cycle comes to', () => {
  const [share, tau, air] = [0.3, 0.25, 0.5]
  const cycle = 0.0005
  const film: WallFilm = { mass: 0, share, tau }
  // In balance at the small filling: what lands leaves.
  film.mass = (share * air) / (1 - Math.exp(-cycle / tau))
  for (let t = 0; t < 1; t += cycle) {
    const lambda = 1 / filmCycle(film, 1, cycle)
    expect(lambda).toBeCloseTo(afterStep(share, tau, air, t), 3)
  }
})

test('the sensor answers a step as a first-order lag does', () => {
  const shown = sensorTrace(
    times.map((t) => (t > 0 ? 1 : 0)),
    0.09,
    H,
  )
  times
    .slice(2)
    .forEach((t, k) => expect(Math.abs(shown[k + 2]! - (1 - Math.exp(-(t - H / 2) / 0.09)))).toBeLessThan(2e-3))
})
