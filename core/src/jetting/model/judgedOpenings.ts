/** Openings at which combinations are judged. */
export const JUDGED_OPENINGS: readonly number[] = Array.from({ length: 60 }, (_, k) => 0.02 + (0.98 * k) / 59)
