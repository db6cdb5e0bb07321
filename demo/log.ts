import { steadyLambda, type HandRequest, type Rig, type RigRun, type RunColumns } from '@yuzumix/core'

/** A run with the columns that every logger of the demo has. */
export type LoggedRun = RunColumns & Pick<RigRun, 'throttle' | 'torque' | 'coolant'>

/** A run of the rig as loggers write it: comma or semicolon, lambda or AFR. */
export function asLog(run: LoggedRun, format: 'plain' | 'afr with semicolons'): string {
  const afr = format !== 'plain'
  const names = run.lambda.map((_, c) => (afr ? `AFR cyl ${c + 1}` : `Lambda ${c + 1} (λ)`))
  const header = [
    'Time (s)',
    'Engine speed (rpm)',
    'Throttle (%)',
    ...names,
    'Torque (N·m)',
    'Coolant (°C)',
    ...(run.spark ? ['Spark advance (°)'] : []),
    ...(run.knock ? ['Knock'] : []),
    ...(run.trimShort ? ['Short trim (%)'] : []),
    ...(run.grip ? ['Grip (%)'] : []),
    ...(run.mode ? ['Riding mode'] : []),
  ]
  const lines = [header.join(afr ? ';' : ',')]
  for (let i = 0; i < run.time.length; i++) {
    const cells = [
      run.time[i]!.toFixed(2),
      run.rpm[i]!.toFixed(0),
      run.throttle[i]!.toFixed(1),
      ...run.lambda.map((column) => (afr ? (column[i]! * 14.7).toFixed(2) : column[i]!.toFixed(3))),
      run.torque[i]!.toFixed(1),
      run.coolant[i]!.toFixed(1),
      ...(run.spark ? [run.spark[i]!.toFixed(1)] : []),
      ...(run.knock ? [run.knock[i]!.toFixed(2)] : []),
      ...(run.trimShort ? [run.trimShort[i]!.toFixed(1)] : []),
      ...(run.grip ? [run.grip[i]!.toFixed(1)] : []),
      ...(run.mode ? [run.mode[i]!.toFixed(0)] : []),
    ]
    lines.push(afr ? cells.join(';').replaceAll('.', ',') : cells.join(','))
  }
  return `${lines.join('\n')}\n`
}

/** What a person with a gauge writes down at settled points: the range it wanders over, per cylinder, in AFR. */
export function asHandReadings(rig: Rig, points: readonly { rpm: number; plate: number }[]): HandRequest['readings'] {
  return points.map(({ rpm, plate }) => ({
    rpm,
    load: plate,
    readings: rig.engine.spread.map((_, cylinder) => {
      const afr = 14.7 * steadyLambda(rig, cylinder, rpm, plate)
      return `${(afr - 0.05).toFixed(1)}-${(afr + 0.05).toFixed(1)}`
    }),
  }))
}
