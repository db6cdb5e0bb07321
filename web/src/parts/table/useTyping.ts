import { ref } from 'vue'
import { parseCell } from '@yuzumix/core'

/** Typing a number over a selection, without an input field: digits gather until they are committed or dropped. */
export function useVirtualTyping(onNumber: (value: number) => void) {
  const typed = ref('')
  return {
    typed,
    /** Takes a key; false when it is no part of a number. */
    type(key: string): boolean {
      if (key === 'Backspace' && typed.value) typed.value = typed.value.slice(0, -1)
      else if (/^[\d.,]$/.test(key) || (/^[+-]$/.test(key) && typed.value === '')) typed.value += key
      else return false
      return true
    },
    commit(): void {
      const value = parseCell(typed.value)
      typed.value = ''
      if (!Number.isNaN(value)) onNumber(value)
    },
    drop(): void {
      typed.value = ''
    },
  }
}
