/**
 * Seeds of a proof, from 1: all of them, or a few while one works (`npm run test:quick`).
 *
 * @param all how many the proof is made of
 * @param quick how many tell that nothing is badly wrong
 */
export function seeds(all: number, quick = 2): number[] {
  const count = process.env['YUZUMIX_SEEDS'] === 'quick' ? Math.min(quick, all) : all
  return Array.from({ length: count }, (_, k) => k + 1)
}
