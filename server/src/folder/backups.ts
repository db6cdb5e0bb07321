import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { Refusal, refused, type Backup, type BackupKind } from '@yuzumix/core'
import { faultOfFile } from './soundness'
import { connectTo } from './sqlite'

/** The database of a folder. */
export const storeFile = (folder: string): string => join(folder, 'yuzumix.sqlite')
const backupsIn = (folder: string): string => join(folder, 'backups')

/** Kinds of copies by how their files are named. */
const KINDS: Record<string, BackupKind> = {
  daily: 'daily',
  asked: 'asked for',
  migration: 'before a migration',
  restore: 'before a restore',
}
const NAME = /^(\d{4}-\d{2}-\d{2})T(\d{2})(\d{2})(\d{2})(\d{3})Z-([a-z]+)\.sqlite$/

/** What is kept of each kind: the newest of so many days, and of so many weeks beside; of the others the newest few. */
const KEPT = { days: 14, weeks: 8, others: 10 }

/** The rule by which copies are kept, in words. */
export const KEEPING = `Kept: the newest daily one of each of the last ${KEPT.days} days that have one and of each of ${KEPT.weeks} weeks before, and the last ${KEPT.others} of every other kind.`

/** Copies that a folder holds, newest first. */
export function listBackups(folder: string): Backup[] {
  if (!existsSync(backupsIn(folder))) return []
  return readdirSync(backupsIn(folder))
    .flatMap((name): Backup[] => {
      const [, day, hour, minute, second, ms, word] = NAME.exec(name) ?? []
      const kind = word && KINDS[word]
      if (!kind) return []
      const at = `${day}T${hour}:${minute}:${second}.${ms}Z`
      return [{ name, at, kind, bytes: statSync(join(backupsIn(folder), name)).size }]
    })
    .sort((a, b) => b.at.localeCompare(a.at))
}

/**
 * Makes a copy of a folder's store by SQLite's online backup, and checks it before it counts as one; what no longer needs to be
 * kept goes.
 *
 * @throws Refusal 'not-found' where there is no store yet, 'backup-damaged' where the copy is not sound
 */
export async function makeBackup(folder: string, kind: BackupKind, now = new Date()): Promise<Backup> {
  if (!existsSync(storeFile(folder))) throw new Refusal('not-found', `There is no store in ${folder} yet.`)
  mkdirSync(backupsIn(folder), { recursive: true })
  const word = Object.keys(KINDS).find((one) => KINDS[one] === kind)!
  const name = `${now.toISOString().replace(/[:.]/g, '')}-${word}.sqlite`
  const path = join(backupsIn(folder), name)
  const part = `${path}.part`
  try {
    const store = await connectTo(storeFile(folder), 'write')
    try {
      await store.copyTo(part)
    } finally {
      await store.close()
    }
    const fault = await faultOfFile(part, 'quick')
    if (fault) throw new Refusal('backup-damaged', `The copy is not sound: ${fault}. Nothing was kept of it.`)
    renameSync(part, path)
  } finally {
    for (const end of ['', '-wal', '-shm', '-journal']) rmSync(`${part}${end}`, { force: true })
  }
  for (const old of noLongerKept(listBackups(folder))) rmSync(join(backupsIn(folder), old.name), { force: true })
  return listBackups(folder).find((one) => one.name === name)!
}

/** Lets go what a copy that was cut off has left. */
export function dropUnfinished(folder: string): void {
  if (!existsSync(backupsIn(folder))) return
  for (const name of readdirSync(backupsIn(folder)))
    if (name.includes('.sqlite.part')) rmSync(join(backupsIn(folder), name), { force: true })
}

/**
 * Copies that need not be kept any more, of those that are there, newest first.
 *
 * @example
 * noLongerKept([]) // []
 */
export function noLongerKept(all: readonly Backup[]): Backup[] {
  const kept = new Set<Backup>()
  const newestBy = (of: (one: Backup) => string, most: number, among: readonly Backup[]): void => {
    const seen = new Set<string>()
    for (const one of among) {
      if (seen.has(of(one)) || seen.size >= most) continue
      kept.add(one)
      seen.add(of(one))
    }
  }
  const daily = all.filter((one) => one.kind === 'daily')
  newestBy((one) => one.at.slice(0, 10), KEPT.days, daily)
  const firstDay = [...kept].at(-1)?.at.slice(0, 10) ?? ''
  const older = daily.filter((one) => one.at.slice(0, 10) < firstDay)
  newestBy((one) => String(Math.floor(Date.parse(one.at) / (7 * 86_400_000))), KEPT.weeks, older)
  for (const kind of Object.values(KINDS))
    if (kind !== 'daily')
      all
        .filter((one) => one.kind === kind)
        .slice(0, KEPT.others)
        .forEach((one) => kept.add(one))
  return all.filter((one) => !kept.has(one))
}

/**
 * The file of a copy, once it was found sound.
 *
 * @throws Refusal 'not-found', or 'backup-damaged'
 */
export async function soundBackup(folder: string, name: string): Promise<string> {
  if (!listBackups(folder).some((one) => one.name === name))
    throw refused('not-found', `There is no backup "${name}" in ${backupsIn(folder)}.`, 'backup')
  const path = join(backupsIn(folder), name)
  const fault = await faultOfFile(path, 'full')
  if (fault)
    throw refused('backup-damaged', `The backup "${name}" cannot be used: ${fault}. Take another one.`, 'backup')
  return path
}

/** The newest copy that is sound; null where there is none. */
export async function newestSound(folder: string): Promise<Backup | null> {
  for (const one of listBackups(folder))
    if (!(await faultOfFile(join(backupsIn(folder), one.name), 'quick'))) return one
  return null
}
