type Names = Readonly<Record<string, string>>

/** What a run is called; its id where nobody knows. */
export const nameOf = (id: string, names: Names): string => names[id] ?? id

/** Names of some runs for a sentence; beyond three by their number. @param all how many there are in all */
export function named(ids: readonly string[], names: Names, all = Infinity): string {
  if (ids.length === all) return all === 1 ? 'the run' : 'all runs'
  const shown = ids.slice(0, 3).map((id) => `"${nameOf(id, names)}"`)
  return ids.length > 3 ? `${shown.join(', ')} and ${ids.length - 3} more` : shown.join(', ')
}
