/** Names of some runs for a sentence; beyond three by their number. @param all how many there are in all */
export function named(ids: readonly string[], name: (id: string) => string, all = Infinity): string {
  if (ids.length === all) return all === 1 ? 'the run' : 'all runs'
  const shown = ids.slice(0, 3).map((id) => `"${name(id)}"`)
  return ids.length > 3 ? `${shown.join(', ')} and ${ids.length - 3} more` : shown.join(', ')
}
