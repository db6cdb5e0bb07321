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
