import type { RpmBand } from '../../run/run'
import type { Curve } from './curve'
import { binsWithin, type CurveRuler } from './ruler'

/** A run, and a band in which what it shows is a misfire. */
interface Misfired extends RpmBand {
  run: string
}

/** Curves without what a misfire made of them: a silent cylinder tells neither what the engine can do nor what fuel it wants. */
export function soundCurves(curves: readonly Curve[], misfires: readonly Misfired[], ruler: CurveRuler): Curve[] {
  return curves.map((curve) => {
    const own = misfires.filter((one) => one.run === curve.run)
    if (own.length === 0) return curve
    const spans = own.map((one) => binsWithin(ruler, one.fromRpm, one.toRpm))
    const blank = (values: Float32Array): Float32Array =>
      values.map((value, bin) => (spans.some(([from, to]) => bin >= from && bin <= to) ? NaN : value))
    return { ...curve, torque: curve.torque && blank(curve.torque), lambda: curve.lambda.map(blank) }
  })
}
