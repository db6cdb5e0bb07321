/**
 * Energy balance of a coast-down and of the pull before it (work and energy, Newtonian mechanics; worked out by hand, no
 * code of ours): what the engine gives over a pull is what the machine gains in motion and what rolling and drag take.
 */
import { roadPower } from '../src/curves/torque/roadPower'

const [mass, turning, perRpm, rolling, drag] = [240, 12, 0.004, 45, 0.31]
/** Torque that a machine with this much, N·m, everywhere. */
const TORQUE = 58

function drive() {
  const rows: { t: number; v: number; rpm: number; throttle: number }[] = []
  let [t, v] = [0, 13]
  let engine = v / perRpm
  const step = 0.001
  const push = (throttle: number): void => void rows.push({ t, v, rpm: engine, throttle })
  for (let k = 0; engine < 9500; k++) {
    const traction = (TORQUE * engine * 2 * Math.PI) / 60 / v
    v += ((traction - rolling - drag * v * v) / (mass + turning)) * step
    engine = v / perRpm
    t += step
    if (k % 20 === 0) push(100)
  }
  const end = { v, rows: rows.length }
  for (let k = 0; v > 14; k++) {
    v -= ((rolling + drag * v * v) / (mass + turning)) * step
    engine += (1400 - engine) * step * 3
    t += step
    if (k % 20 === 0) push(1)
  }
  return { rows, end }
}

it('torque over the angle turned is the energy gained and the work of drag, within half a percent', () => {
  const { rows, end } = drive()
  const column = (pick: (row: (typeof rows)[number]) => number): Float32Array => Float32Array.from(rows, pick)
  const told = roadPower(
    [
      {
        id: 'r',
        time: column((one) => one.t),
        rpm: column((one) => one.rpm),
        throttle: column((one) => one.throttle),
        speed: column((one) => one.v * 3.6),
      },
    ],
    { massKg: mass, rotatingMassKg: turning },
  )!
  expect(told.drag).toBe('coast-down')
  const torqueAt = (rpm: number): number => {
    const k = told.rpm.findIndex((one) => one >= rpm)
    const [a, b] = [Math.max(0, k - 1), k < 0 ? told.rpm.length - 1 : k]
    const span = told.rpm[b]! - told.rpm[a]!
    const share = span ? Math.min(1, Math.max(0, (rpm - told.rpm[a]!) / span)) : 0
    return told.torque[a]! + share * (told.torque[b]! - told.torque[a]!)
  }
  let [given, taken] = [0, 0]
  for (let k = 1; k < end.rows; k++) {
    const [a, b] = [rows[k - 1]!, rows[k]!]
    const [dt, rpm, v] = [b.t - a.t, (a.rpm + b.rpm) / 2, (a.v + b.v) / 2]
    given += torqueAt(rpm) * ((rpm * 2 * Math.PI) / 60) * dt
    taken += (rolling + drag * v * v) * v * dt
  }
  const gained = ((mass + turning) * (rows[end.rows - 1]!.v ** 2 - rows[0]!.v ** 2)) / 2
  expect(Math.abs(given / (gained + taken) - 1)).toBeLessThan(0.005)
})
