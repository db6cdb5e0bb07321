import { closeSync, mkdirSync, mkdtempSync, openSync, readdirSync, rmSync, writeFileSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { listBackups, makeBackup, noLongerKept, storeFile } from '../folder/backups'
import { lockFolder } from '../folder/lock'
import { restoreOffline } from '../folder/restoreOffline'
import { connectTo } from '../folder/sqlite'
import { openStore } from './database'
import { createJob, listJobs } from './jobs'
import { migrations } from './migrations'

let folder: string
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'yuzumix-folder-'))))
afterEach(() => rmSync(folder, { recursive: true, force: true }))

/** A store with some jobs, closed in order. */
async function filled(...titles: string[]): Promise<void> {
  const store = await openStore(folder)
  for (const title of titles) await createJob(store, { title })
  await store.close()
}
async function titles(): Promise<string[]> {
  const store = await openStore(folder)
  const all = (await listJobs(store)).map((job) => job.title)
  await store.close()
  return all.sort()
}

describe('a folder that is open', () => {
  it('is refused to a second one, which touches nothing of the first', async () => {
    const store = await openStore(folder)
    store.tellAddress('http://127.0.0.1:5180/')
    writeFileSync(join(folder, 'incoming', 'half'), 'an upload under way')
    await expect(openStore(folder)).rejects.toMatchObject({
      code: 'folder-taken',
      message: expect.stringMatching(new RegExp(`process ${process.pid}, at http://127.0.0.1:5180/`)) as string,
    })
    expect(readdirSync(join(folder, 'incoming'))).toEqual(['half'])
    await store.close()
    await (await openStore(folder)).close()
  })

  it('tells whether it was closed in order, and holds nothing of whoever was cut off', async () => {
    const first = await lockFolder(folder)
    expect([first.wasClosed, first.hasBegun]).toEqual([true, false])
    first.begun()
    await first.release(false)
    const second = await lockFolder(folder)
    expect([second.wasClosed, second.hasBegun]).toEqual([false, true])
    await second.release()
    const third = await lockFolder(folder)
    expect(third.wasClosed).toBe(true)
    await third.release()
  })

  it('is told of in words where it is none', async () => {
    writeFileSync(join(folder, 'file'), '')
    await expect(openStore(join(folder, 'file', 'data'))).rejects.toMatchObject({
      code: 'folder-closed',
      message: expect.stringMatching(/a file stands where the folder should be/) as string,
    })
  })
})

describe('a store that is not sound', () => {
  const spoil = (at: number, bytes: Buffer): void => {
    const file = openSync(storeFile(folder), 'r+')
    writeSync(file, bytes, 0, bytes.length, at)
    closeSync(file)
  }
  const damages: [string, () => void, RegExp][] = [
    ['of zero bytes', () => writeFileSync(storeFile(folder), ''), /zero bytes/],
    ['gone', () => rmSync(storeFile(folder)), /it is not there/],
    [
      'with a header of another kind',
      () => spoil(0, Buffer.from('PK\x03\x04 something')),
      /first bytes are of another kind/,
    ],
    ['overwritten inside', () => spoil(4096, Buffer.alloc(60_000, 0xa5)), /damaged/],
  ]
  it.each(damages)('%s: told with the newest sound copy, and restored by one command', async (_what, damage, words) => {
    await filled('Curlew', 'Avocet')
    const made = await makeBackup(folder, 'asked for')
    damage()
    for (const end of ['-wal', '-shm']) rmSync(`${storeFile(folder)}${end}`, { force: true })
    const error = await openStore(folder).then(
      () => null,
      (one: Error) => one,
    )
    expect(error).toMatchObject({ code: 'store-damaged' })
    expect(error!.message).toMatch(words)
    expect(error!.message).toContain(`npm run restore -- ${made.name}`)
    // It stays so: never an empty store in silence.
    await expect(openStore(folder)).rejects.toMatchObject({ code: 'store-damaged' })
    await restoreOffline(folder, made.name)
    expect(await titles()).toEqual(['Avocet', 'Curlew'])
  })

  it('cut short: told', async () => {
    await filled(...Array.from({ length: 40 }, (_, k) => `Job ${k}`))
    const { truncateSync, statSync } = await import('node:fs')
    truncateSync(storeFile(folder), Math.floor(statSync(storeFile(folder)).size / 2))
    await expect(openStore(folder)).rejects.toMatchObject({
      code: 'store-damaged',
      message: expect.stringMatching(/There is no sound backup beside it/) as string,
    })
  })

  it('of a newer version is refused as it is', async () => {
    await filled('Curlew')
    const connection = await connectTo(storeFile(folder), 'write')
    await connection.all("INSERT INTO SequelizeMeta (name) VALUES ('0999-from-tomorrow')")
    await connection.close()
    await expect(openStore(folder)).rejects.toMatchObject({
      code: 'store-newer',
      message: expect.stringMatching(/0999-from-tomorrow/) as string,
    })
  })

  it('of an older version is copied before it is migrated', async () => {
    const old = await openStore(folder, migrations.slice(0, 12))
    await old.close()
    expect(listBackups(folder)).toEqual([])
    await (await openStore(folder)).close()
    expect(listBackups(folder).map((one) => one.kind)).toEqual(['before a migration'])
  })

  it('of an older version is brought up again where its copy is restored while the store is open', async () => {
    const old = await openStore(folder, migrations.slice(0, 18))
    await old.sequelize.query(
      `INSERT INTO jobs (id, title, data, archived, createdAt) VALUES ('old', 'Curlew', '{}', 0, '2026-01-01T00:00:00.000Z')`,
    )
    await old.close()
    const store = await openStore(folder)
    const [copy] = listBackups(folder)
    await createJob(store, { title: 'Made since' })
    // An act that waits meanwhile finds the older store, and what was confirmed before is in the copy that was made.
    const restored = store.restore(join(folder, 'backups', copy!.name))
    const late = createJob(store, { title: 'Right behind it' })
    await Promise.all([restored, late])
    expect((await listJobs(store)).map((job) => job.title).sort()).toEqual(['Curlew', 'Right behind it'])
    await store.close()
    const [before] = listBackups(folder)
    expect(before!.kind).toBe('before a restore')
    await restoreOffline(folder, before!.name)
    expect(await titles()).toEqual(['Curlew', 'Made since'])
  })

  it('that is not there yet cannot be copied, and is told of in words', async () => {
    await expect(makeBackup(folder, 'asked for')).rejects.toMatchObject({ code: 'not-found' })
    expect(readdirSync(folder)).toEqual([])
  })
})

describe('copies', () => {
  it('are whole while somebody writes, and what was cut off leaves nothing', async () => {
    const store = await openStore(folder)
    const writing = (async () => {
      for (let k = 0; k < 60; k++) await createJob(store, { title: `Job ${k}` })
    })()
    const made = await makeBackup(folder, 'asked for')
    await writing
    await store.close()
    expect(made.bytes).toBeGreaterThan(4096)
    mkdirSync(join(folder, 'backups'), { recursive: true })
    writeFileSync(join(folder, 'backups', '2026-01-01T000000000Z-daily.sqlite.part'), 'half of it')
    await (await openStore(folder)).close()
    expect(readdirSync(join(folder, 'backups'))).toEqual([made.name])
  })

  it('that are damaged are never taken', async () => {
    await filled('Curlew')
    const made = await makeBackup(folder, 'daily')
    writeFileSync(join(folder, 'backups', made.name), 'nothing of the kind')
    await expect(restoreOffline(folder, made.name)).rejects.toMatchObject({ code: 'backup-damaged' })
    await expect(restoreOffline(folder, '../yuzumix.sqlite')).rejects.toMatchObject({ code: 'not-found' })
    expect(await titles()).toEqual(['Curlew'])
  })

  it('are kept by day, by week, and by number', () => {
    const daily = Array.from({ length: 200 }, (_, k) => ({
      name: `d${k}`,
      at: new Date(Date.UTC(2026, 5, 30) - 12 * 3_600_000 * k).toISOString(),
      kind: 'daily' as const,
      bytes: 1,
    }))
    const asked = daily.slice(0, 14).map((one) => ({ ...one, name: `a${one.name}`, kind: 'asked for' as const }))
    const all = [...daily, ...asked].sort((a, b) => b.at.localeCompare(a.at))
    const kept = all.filter((one) => !noLongerKept(all).includes(one))
    const days = kept.filter((one) => one.kind === 'daily')
    expect(kept.filter((one) => one.kind === 'asked for')).toHaveLength(10)
    // Fourteen days, and eight weeks before them; the one kept of a day is its newest.
    expect(days).toHaveLength(22)
    expect(new Set(days.slice(0, 14).map((one) => one.at.slice(0, 10))).size).toBe(14)
    expect(days[0]!.name).toBe('d0')
    expect(Date.parse(days.at(-1)!.at)).toBeLessThan(Date.parse(days[13]!.at) - 6 * 7 * 86_400_000)
  })
})
