import { ref } from 'vue'

/** Keys with which typing over a cell begins; once begun, all that is typed belongs to it. */
const BEGINS = /^[\d.,+\-\u2212*×/=]$/

/** Typing over a selection, without an input field: what is typed gathers until it is committed or dropped. */
export function useVirtualTyping(onEntry: (text: string) => void) {
  const typed = ref('')
  return {
    typed,
    /** Takes a key; false when it is none of typing. */
    type(key: string): boolean {
      if (key === 'Backspace' && typed.value) typed.value = typed.value.slice(0, -1)
      else if (BEGINS.test(key) || (typed.value !== '' && key.length === 1)) typed.value += key
      else return false
      return true
    },
    commit(): void {
      const text = typed.value
      typed.value = ''
      if (text.trim() !== '') onEntry(text)
    },
    drop(): void {
      typed.value = ''
    },
  }
}
