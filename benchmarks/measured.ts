/** One budget: what was measured, and what is allowed. Ratios count; they are measured in one run. */
export interface Measured {
  what: string
  value: string
  budget: string
  met: boolean
}
