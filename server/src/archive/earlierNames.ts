/** Names that members of an archive's job had in earlier versions. */
const PLAN = { school: 'order', depth: 'service' } as const

/** A job as an archive of any version has it, by the names of today. */
export function withNamesOfToday(raw: { plan?: Record<string, unknown> }): object {
  if (typeof raw.plan !== 'object' || raw.plan === null) return raw
  const plan = Object.fromEntries(
    Object.entries(raw.plan).map(([name, value]) => [PLAN[name as keyof typeof PLAN] ?? name, value]),
  )
  return { ...raw, plan }
}
