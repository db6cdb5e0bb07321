/** The package brings no types of its own. Everything counts from one. */
declare module 'quadprog' {
  export function solveQP(
    bend: number[][],
    fall: number[],
    constraints: number[][],
    least: number[],
    equalities?: number,
  ): { solution: number[]; value: number[]; message: string }
  const all: { solveQP: typeof solveQP }
  export default all
}
