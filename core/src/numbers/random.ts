/** Uniform numbers in [0, 1) and standard normal ones, the same for the same seed on every machine. */
export interface Random {
  uniform(): number
  normal(): number
}

/** Seeded generator (SplitMix32 for the state, Box-Muller for the normal numbers). */
export function seededRandom(seed: number): Random {
  let state = seed | 0
  const uniform = (): number => {
    state = (state + 0x9e3779b9) | 0
    let t = state ^ (state >>> 16)
    t = Math.imul(t, 0x21f0aaad)
    t ^= t >>> 15
    t = Math.imul(t, 0x735a2d97)
    t ^= t >>> 15
    return (t >>> 0) / 4294967296
  }
  return {
    uniform,
    normal: () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform()),
  }
}
