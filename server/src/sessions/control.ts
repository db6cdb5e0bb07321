import { passGate, refused, type Danger } from '@yuzumix/core'

/** Whoever does not drive neither sets nor writes anything while somebody else does. */
const SOMEBODY_ELSE: Danger = {
  kind: 'somebody else drives',
  field: 'driver',
  text: 'Somebody else drives this bench. Ask them to let go, then take control.',
  never: true,
}

/** Who drives a bench: one at a time, or nobody. */
export function control() {
  let driver: string | null = null
  return {
    driver: (): string | null => driver,
    /** @throws Refusal 'bench' when somebody else has it */
    take(client: string): void {
      if (driver !== null && driver !== client)
        throw refused('bench', 'Somebody else drives this bench. Watch, or ask them to let go.', 'driver')
      driver = client
    },
    /** @returns whether it was theirs */
    letGo(client: string): boolean {
      if (driver !== client) return false
      driver = null
      return true
    },
    /** @throws Refusal 'bench' for who does not drive */
    needs(client: string): void {
      if (driver !== client)
        throw refused('bench', 'Somebody else drives, or nobody does. Take the wheel first.', 'driver')
    },
    /** @throws what the gate refuses to who does not drive while somebody else does */
    needsNobodyElse(client: string | undefined): void {
      if (driver !== null && driver !== client) passGate([SOMEBODY_ELSE], undefined)
    },
  }
}
