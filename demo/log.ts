import type { RigRun } from '@yuzumix/core'

/** A run of the rig as loggers write it: comma or semicolon, lambda or AFR. */
export function asLog(run: RigRun, format: 'plain' | 'afr with semicolons'): string {
  const afr = format !== 'plain'
  const names = run.lambda.map((_, c) => (afr ? `AFR cyl ${c + 1}` : `Lambda ${c + 1} (λ)`))
  const header = ['Time (s)', 'Engine speed (rpm)', 'Throttle (%)', ...names, 'Torque (N·m)', 'Coolant (°C)']
  const lines = [header.join(afr ? ';' : ',')]
  for (let i = 0; i < run.time.length; i++) {
    const cells = [
      run.time[i]!.toFixed(2),
      run.rpm[i]!.toFixed(0),
      run.throttle[i]!.toFixed(1),
      ...run.lambda.map((column) => (afr ? (column[i]! * 14.7).toFixed(2) : column[i]!.toFixed(3))),
      run.torque[i]!.toFixed(1),
      run.coolant[i]!.toFixed(1),
    ]
    lines.push(afr ? cells.join(';').replaceAll('.', ',') : cells.join(','))
  }
  return `${lines.join('\n')}\n`
}
