/**
 * Half width of the 90 % interval of a normal distribution, in standard errors: its quantile at 0.95, to three digits.
 *
 * @see Abramowitz and Stegun, Handbook of Mathematical Functions, table 26.5
 */
export const NINETY = 1.645
