import { createHash, randomBytes, randomInt, scrypt, timingSafeEqual } from 'node:crypto'
import { readFileSync, renameSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { refused, type Role } from '@yuzumix/core'
import { inTurn } from '../pool/inTurn'

/** Who comes in from beyond this machine, and as what. */
export interface Access {
  hasPassphrase(): boolean
  /** Sets it; whoever was let in before is let in no more. @throws Refusal 'input-refused' for one that is too short */
  setPassphrase(text: string): Promise<void>
  /** @returns the token of a session that may work; null for another passphrase */
  enter(text: string): Promise<string | null>
  /** A code that lets one more in, once, for some minutes. */
  makeCode(role: Role): { code: string; until: string }
  /** @returns the token of a session; null for a code that is none any more */
  join(code: string): string | null
  /** what a token lets do; null for nothing */
  roleOf(token: string): Role | null
  leave(token: string): void
  /** Lets nobody in any more who was let in before. @returns how many they were */
  leaveAll(): number
  /** Hears whenever somebody is let in no more. @returns ends it */
  listen(hear: () => void): () => void
  sessions(): { role: Role; since: string }[]
  /** host names and addresses it answers to, beside those of this machine */
  names(): string[]
  setNames(names: readonly string[]): void
}

const derive = promisify<string, Buffer, number, object, Buffer>(scrypt)
/** Cost of one try: some tenths of a second (OWASP Password Storage Cheat Sheet, scrypt; from memory). */
const COST = { N: 2 ** 16, r: 8, p: 2, maxmem: 128 * 1024 ** 2 }
const KEY_BYTES = 32
/** Characters of a passphrase, and of a code; those that are taken for each other are left out of codes. */
const LEAST_PASSPHRASE = 10
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789'
const CODE_LENGTH = 10
const CODE_LASTS = 5 * 60_000
const MOST_CODES = 50
/** ms after which somebody enters anew. */
const SESSION_LASTS = 90 * 86_400_000

interface Kept {
  passphrase: { salt: string; hash: string } | null
  names: string[]
  sessions: { hash: string; role: Role; since: string }[]
}
const digest = (text: string): string => createHash('sha256').update(text).digest('hex')

/** Reads who may come in from the data folder; tokens and passphrase lie there hashed. */
export function openAccess(folder: string, now: () => number = Date.now): Access {
  const path = join(folder, 'access.json')
  let [kept, seen] = [read(path), changedAt(path)]
  /** What is kept, read again where the command line changed it beside a server that runs. */
  const fresh = (): Kept => {
    const at = changedAt(path)
    if (at === seen) return kept
    ;[kept, seen] = [read(path), at]
    tellLeft()
    return kept
  }
  const codes = new Map<string, { role: Role; until: number }>()
  const listeners = new Set<() => void>()
  const tellLeft = (): void => {
    for (const hear of listeners) hear()
  }
  // One try at a time: each takes its share of memory.
  const turn = inTurn()
  const derived = (text: string, salt: Buffer): Promise<Buffer> =>
    turn(() => derive(text.normalize('NFKC'), salt, KEY_BYTES, COST))
  const save = (): void => {
    // Whole or not at all, and for nobody else on this machine.
    writeFileSync(`${path}.new`, JSON.stringify(kept), { mode: 0o600, flush: true })
    renameSync(`${path}.new`, path)
    seen = changedAt(path)
  }
  const isOver = (since: string): boolean => now() - Date.parse(since) > SESSION_LASTS
  const begin = (role: Role): string => {
    const token = randomBytes(32).toString('base64url')
    const all = fresh()
    all.sessions = all.sessions.filter((one) => !isOver(one.since))
    all.sessions.push({ hash: digest(token), role, since: new Date(now()).toISOString() })
    save()
    return token
  }
  return {
    hasPassphrase: () => fresh().passphrase !== null,
    async setPassphrase(text) {
      if (text.length < LEAST_PASSPHRASE)
        throw refused(
          'input-refused',
          `A passphrase has ${LEAST_PASSPHRASE} characters at least: some words are easy to keep in mind.`,
          'passphrase',
        )
      const salt = randomBytes(16)
      const hash = (await derived(text, salt)).toString('hex')
      // Only now: it may have been changed beside us while this was worked out.
      Object.assign(fresh(), { passphrase: { salt: salt.toString('hex'), hash }, sessions: [] })
      codes.clear()
      save()
      tellLeft()
    },
    async enter(text) {
      const { passphrase } = fresh()
      if (!passphrase) return null
      const tried = await derived(text, Buffer.from(passphrase.salt, 'hex'))
      // One that was replaced meanwhile lets nobody in.
      if (fresh().passphrase?.hash !== passphrase.hash) return null
      return timingSafeEqual(tried, Buffer.from(passphrase.hash, 'hex')) ? begin('work') : null
    },
    makeCode(role) {
      for (const [code, { until }] of codes) if (until < now()) codes.delete(code)
      if (codes.size >= MOST_CODES) codes.delete(codes.keys().next().value!)
      const code = Array.from({ length: CODE_LENGTH }, () => SIGNS[randomInt(SIGNS.length)]).join('')
      const until = now() + CODE_LASTS
      codes.set(code, { role, until })
      return { code, until: new Date(until).toISOString() }
    },
    join(text) {
      const code = text.trim().toLowerCase()
      const found = codes.get(code)
      codes.delete(code)
      return found && found.until >= now() ? begin(found.role) : null
    },
    roleOf(token) {
      const hash = digest(token)
      const found = fresh().sessions.find((one) => one.hash === hash)
      return found && !isOver(found.since) ? found.role : null
    },
    leave(token) {
      const hash = digest(token)
      const all = fresh()
      all.sessions = all.sessions.filter((one) => one.hash !== hash)
      save()
      tellLeft()
    },
    leaveAll() {
      const all = fresh()
      const count = all.sessions.length
      all.sessions = []
      codes.clear()
      save()
      tellLeft()
      return count
    },
    listen(hear) {
      listeners.add(hear)
      return () => void listeners.delete(hear)
    },
    sessions: () =>
      fresh()
        .sessions.filter((one) => !isOver(one.since))
        .map(({ role, since }) => ({ role, since })),
    names: () => [...fresh().names],
    setNames(names) {
      fresh().names = names.map((one) => one.trim().toLowerCase()).filter(Boolean)
      save()
    },
  }
}

/** ms at which a file was changed last; 0 for none. */
const changedAt = (path: string): number => statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0

/** @throws Refusal 'store-damaged' for a file that is none: nobody is let in by mistake */
function read(path: string): Kept {
  let text: string
  try {
    text = readFileSync(path, 'utf8')
  } catch {
    return { passphrase: null, names: [], sessions: [] }
  }
  try {
    const kept = JSON.parse(text) as Kept
    if (!Array.isArray(kept.names) || !Array.isArray(kept.sessions)) throw new Error('no lists')
    return kept
  } catch {
    throw refused(
      'store-damaged',
      `${path} cannot be read: it says who may come in from beyond this machine. Delete it, and set a passphrase anew with: npm run passphrase`,
      'access',
    )
  }
}
