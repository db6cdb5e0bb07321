/** kW = N·m x rpm / 9549.3: 60 000 / 2 pi. */
const RPM_PER_KW = 30000 / Math.PI

/** kW of a torque at an engine speed. */
export function powerKw(torqueNm: number, rpm: number): number {
  return (torqueNm * rpm) / RPM_PER_KW
}

/** N·m behind a power at an engine speed; NaN where the engine stands. */
export function torqueNm(kw: number, rpm: number): number {
  return rpm > 0 ? (kw * RPM_PER_KW) / rpm : NaN
}

/** Units of power, as factors from kW. hp is 550 ft·lbf/s, PS is 75 kgf·m/s. */
export const POWER_UNITS = { kW: 1, hp: 1 / 0.745699872, PS: 1 / 0.73549875 } as const
/** Units of torque, as factors from N·m. */
export const TORQUE_UNITS = { 'N·m': 1, 'lb·ft': 1 / 1.3558179483 } as const
export type PowerUnit = keyof typeof POWER_UNITS
export type TorqueUnit = keyof typeof TORQUE_UNITS
