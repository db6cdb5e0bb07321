/**
 * Words as a sentence: with a full stop, unless they have an end of their own. Empty words stay empty.
 *
 * @example
 * sentence('Sealed the joint') // 'Sealed the joint.'
 */
export function sentence(words: string): string {
  const text = words.trim()
  return text === '' || /[.!?…]$/.test(text) ? text : `${text}.`
}
