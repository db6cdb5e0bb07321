/** One thing that keys do: which keys, how they are called, and what happens. */
interface KeyAct {
  /** as `keyName` calls them */
  keys: readonly string[]
  /** on the page of keys; of several acts with one name the first tells for all */
  shown: string
  does: string
}

const act = (keys: string | readonly string[], shown: string, does: string): KeyAct => ({
  keys: typeof keys === 'string' ? [keys] : keys,
  shown,
  does,
})
const between = 'up, down, left, right'

/**
 * Every key of the application, by the part of the screen that takes it. What handles keys asks here, and the page of keys
 * shows the same: a key that is not here does nothing.
 */
export const KEYMAP = {
  everywhere: {
    stage: act(
      [1, 2, 3, 4, 5, 6, 7, 8].map((n) => `Alt+${n}`),
      'Alt-1 to Alt-8',
      'the stages, Brief to Hand-over',
    ),
    keys: act('?', '?', 'the keys of this screen'),
    note: act('n', 'n', 'write a note into the logbook'),
  },
  field: {
    move: act(['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'], between, 'move from cell to cell in the field'),
    ends: act(['Home', 'End'], 'Home, End', 'first and last rpm of the row'),
    run: act(['[', ']'], '[ and ]', 'previous and next run of this throttle stop'),
  },
  curves: {
    hairline: act(['ArrowLeft', 'ArrowRight'], 'left, right', 'move the hairline over the curves'),
    run: act(['[', ']'], '[ and ]', 'previous and next run'),
  },
  hand: {
    next: act('Enter', 'Enter', 'hand readings: go on to the next cell; on an empty line add them as a run'),
    add: act('Ctrl+enter', 'Ctrl-Enter', 'hand readings: add them as a run'),
    drop: act('Ctrl+backspace', 'Ctrl-Backspace', 'hand readings: drop the line'),
  },
  rig: {
    move: act(['ArrowUp', 'ArrowDown'], 'up, down', 'from line to line'),
    tick: act([' ', 'Enter'], 'space, Enter', 'tick the line, or take the tick back'),
  },
  points: {
    move: act(['ArrowUp', 'ArrowDown'], 'up, down', 'from point to point'),
  },
  bench: {
    throttle: act(['ArrowUp', 'ArrowDown'], 'up, down', 'throttle'),
    speed: act(['ArrowLeft', 'ArrowRight'], 'left, right', 'speed that the brake holds'),
    gear: act(['PageUp', 'PageDown'], 'Page up, Page down', 'gear'),
    ignition: act('i', 'i', 'ignition'),
    fuel: act('c', 'c', 'fuel'),
    fan: act('f', 'f', 'fan'),
    record: act('r', 'r', 'record by hand'),
    stop: act([' ', 'Escape'], 'space, Escape', 'stop what is under way, and the runs that wait'),
    large: act('b', 'b', 'large type, and back'),
  },
  table: {
    move: act(['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'], between, 'move; with Shift select'),
    ends: act(['Home', 'End'], 'Home, End', 'first and last rpm of the row'),
    all: act('Ctrl+a', 'Ctrl-A', 'select every cell'),
    enter: act('Enter', 'digits, Enter', 'type a value for the selection'),
    drop: act('Escape', 'Escape', 'drop what is typed'),
    up: act('PageUp', 'Page up, Page down', 'step up and down'),
    down: act('PageDown', 'Page up, Page down', 'step up and down'),
    line: act('l', 'l', 'straight line between the ends of the selection'),
    even: act('o', 'o', 'even out the selection'),
    extend: act('e', 'e', 'extend into neighbours without evidence'),
    hold: act('t', 't', 'hold the rows above flat, equal to the lowest selected'),
    take: act('a', 'a', 'take the suggestion for the selection'),
    'take all': act('A', 'Shift-A', 'take the suggestion for all cells'),
    undo: act('Ctrl+z', 'Ctrl-Z, Ctrl-Y', 'undo, redo'),
    redo: act(['Ctrl+y', 'Ctrl+Shift+z'], 'Ctrl-Z, Ctrl-Y', 'undo, redo'),
    save: act('Ctrl+s', 'Ctrl-S', 'save a revision'),
  },
} as const satisfies Record<string, Record<string, KeyAct>>

export type KeyPart = keyof typeof KEYMAP
export type ActOf<Part extends KeyPart> = Extract<keyof (typeof KEYMAP)[Part], string>

/** Keys that the browser takes by itself, told all the same. */
const COPY = { shown: 'Ctrl-C, Ctrl-V', does: 'copy and paste cells, to and from a spreadsheet' }
/** Parts that take keys on a screen, by its route. */
const PARTS: Record<string, readonly KeyPart[]> = {
  rig: ['rig'],
  mixture: ['field'],
  baseline: ['curves', 'hand'],
  bench: ['bench'],
  spark: ['points', 'table'],
  change: ['table'],
}

/** A key as the keymap calls it: `Ctrl+s`, `Ctrl+Shift+z`, `Alt+1`, `ArrowUp`, `A`. */
export function keyName(event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>): string {
  const { key, altKey, shiftKey } = event
  const isControl = event.ctrlKey || event.metaKey
  if (!isControl) return `${altKey ? 'Alt+' : ''}${key}`
  return `Ctrl+${altKey ? 'Alt+' : ''}${shiftKey ? 'Shift+' : ''}${key.toLowerCase()}`
}

/** What a key does in a part of the screen; null for nothing. */
export function actOf<Part extends KeyPart>(
  part: Part,
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>,
): ActOf<Part> | null {
  const name = keyName(event)
  const found = Object.entries<KeyAct>(KEYMAP[part]).find(([, one]) => one.keys.includes(name))
  return (found?.[0] as ActOf<Part> | undefined) ?? null
}

/** Keys of a screen with what they do, for the page of keys. */
export function keysOf(route: string): { shown: string; does: string }[] {
  const parts = [...(PARTS[route] ?? []), 'everywhere' as const]
  const all = parts.flatMap((part) => [...Object.values<KeyAct>(KEYMAP[part]), ...(part === 'table' ? [COPY] : [])])
  return all
    .filter((one, k) => all.findIndex((other) => other.shown === one.shown && other.does === one.does) === k)
    .map(({ shown, does }) => ({ shown, does }))
}

/** Whether what has the focus takes letters for itself. */
export function isTyping(event: Event): boolean {
  return (event.target as HTMLElement).closest('input, textarea, select, [contenteditable]') !== null
}
