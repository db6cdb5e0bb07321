import type { Fitted, JettingSettings } from '@yuzumix/core'

/** What a carburettor of that kind is filled with to begin with, until somebody says what is fitted (common practice). */
export function usualFitted({ body: { kind }, box }: Pick<JettingSettings, 'body' | 'box'>): Fitted {
  const needle = box.needles[0]?.name
  const rod = box.rods[0]?.name
  if (kind === 'two screws') return { high: 1.25, low: 1.25 }
  if (kind === 'metering rods') return { main: 240, ...(rod && { rod }), spring: 20, screw: 1.5 }
  return {
    main: 115,
    pilot: 40,
    ...(needle && { needle }),
    clip: 3,
    screw: 1.5,
    ...(kind === 'slide' ? { cutaway: 2.5 } : { spring: 1 }),
  }
}
