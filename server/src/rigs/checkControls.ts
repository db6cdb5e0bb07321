import { refused, type RigControls } from '@yuzumix/core'

const RANGES: Partial<Record<keyof RigControls, [number, number]>> = {
  throttle: [0, 100],
  gear: [0, 6],
  sparkOffset: [-20, 20],
  fuelOffset: [-30, 40],
  mode: [0, 3],
}

/** Whether a rig can take some controls. @param redline of its machine, rpm; @throws Refusal 'bench' for one out of range */
export function checkControls(controls: Partial<RigControls>, redline: number): void {
  for (const [name, [least, most]] of Object.entries(RANGES)) {
    const value = controls[name as 'throttle']
    if (value !== undefined && !(value >= least && value <= most))
      throw refused('bench', `${name} ${value} is outside ${least} to ${most}.`, name)
  }
  const { brake } = controls
  const speedOf = brake && (brake.kind === 'hold' ? brake.rpm : brake.kind === 'sweep' ? brake.toRpm : null)
  if (speedOf !== null && speedOf !== undefined && !(speedOf >= 500 && speedOf <= redline))
    throw refused('bench', `The brake cannot hold ${speedOf} rpm: 500 to ${redline}.`, 'brake')
}
