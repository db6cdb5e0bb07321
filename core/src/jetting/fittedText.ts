import { SLOT_NAMES, SLOTS_OF, type CarburettorKind, type Fitted } from './carburettor'

/**
 * What was fitted in words: what differs from the one before, or all of it.
 *
 * @example
 * fittedText({ main: 150, clip: 3 }, { main: 155, clip: 3 }, 'slide') // 'main jet 150'
 */
export function fittedText(now: Fitted, before: Fitted | null, kind: CarburettorKind): string {
  return SLOTS_OF[kind]
    .filter((slot) => now[slot] !== undefined && now[slot] !== before?.[slot])
    .map((slot) => `${SLOT_NAMES[slot]} ${now[slot]}`)
    .join(', ')
}
