/** The ratio most gauges that show AFR are scaled for (common practice). */
export const USUAL_GAUGE_SCALE = 14.7

/** From here on a figure that somebody reads off a gauge is an air-fuel ratio, below it lambda. */
const LEAST_AFR = 4

/**
 * Lambda of what a gauge shows, as AFR on the scale it is made for or as lambda.
 *
 * @param scale AFR that it shows at lambda 1
 * @example
 * lambdaShown(13.23, 14.7) // 0.9
 */
export function lambdaShown(value: number, scale: number): number {
  return value >= LEAST_AFR ? value / scale : value
}

/**
 * Factor on the fuel that brings a measured mixture to its target: lambda / target x trims.
 *
 * With a closed loop the error stands in its trims. For the hot path: no check, NaN in gives NaN out.
 *
 * @param lambda measured, dimensionless (or AFR, when the target is AFR of the same scale)
 * @param target wanted, same scale
 * @param trim (1 + short) x (1 + long), 1 for none
 */
export function fuelNeeded(lambda: number, target: number, trim: number): number {
  return (lambda / target) * trim
}

/**
 * Change in percent behind a fuel factor.
 *
 * @param factor of fuel, 1 for no change
 * @example
 * percentFromFactor(1.22) // 22
 */
export function percentFromFactor(factor: number): number {
  return (factor - 1) * 100
}

/** Fuel factor behind a change in percent: +22 % is 1.22. */
export function factorFromPercent(percent: number): number {
  return 1 + percent / 100
}
