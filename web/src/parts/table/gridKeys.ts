import type { Ref } from 'vue'
import { actOf, type ActOf } from '@/parts/keys/keymap'

/** What keys in a table ask for beside moving and typing. */
export type GridAct = Exclude<ActOf<'table'>, 'move' | 'ends' | 'all' | 'enter' | 'drop'>

/** What keys in a table of cells act on. */
interface KeyTargets {
  isReadonly(): boolean | undefined
  /** what is typed and not yet entered */
  typed: Readonly<Ref<string>>
  /** @returns whether the key belongs to what is typed */
  type(key: string): boolean
  commit(): void
  drop(): void
  move(event: KeyboardEvent): void
  all(): void
  act(act: GridAct): void
}

/** Keys in a table of cells: they move, type, enter, drop, and ask for acts. */
export function gridKeys({ isReadonly, typed, type, commit, drop, move, all, act }: KeyTargets) {
  return (event: KeyboardEvent): void => {
    if (event.altKey) return
    const pressed = actOf('table', event)
    const done = (): void => event.preventDefault()
    const isControl = event.ctrlKey || event.metaKey
    if (pressed === 'move' || pressed === 'ends') {
      done()
      move(event)
    } else if (pressed === 'all') {
      done()
      all()
    } else if (isControl) {
      if (pressed === null) return
      done()
      act(pressed as GridAct)
    } else if (isReadonly()) return
    else if (pressed === 'enter') {
      done()
      commit()
    } else if (pressed === 'drop') drop()
    // What is typed comes first: letters may belong to it.
    else if (pressed !== null && typed.value === '') {
      done()
      act(pressed)
    } else if (type(event.key)) done()
  }
}
