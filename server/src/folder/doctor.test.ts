import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { storeFile } from './backups'
import { tellOfFolder } from './doctor'
import { lockFolder } from './lock'
import { fullDiskWords, isDiskFull, spaceWords } from './space'

let folder: string
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'yuzumix-doctor-'))))
afterEach(() => rmSync(folder, { recursive: true, force: true }))
const line = async (about: RegExp): Promise<string> => (await tellOfFolder(folder)).find((one) => about.test(one)) ?? ''

describe('the doctor', () => {
  it('makes nothing where there is nothing', async () => {
    const nowhere = join(folder, 'nowhere')
    expect((await tellOfFolder(nowhere)).at(-1)).toMatch(/^ok {2}folder .*nowhere: none yet/)
    expect(await line(/^ok {2}store/)).toMatch(/none yet/)
  })

  it('tells who has the folder open, and that the last one was cut off', async () => {
    const lock = await lockFolder(folder)
    lock.tell('http://127.0.0.1:5180/')
    expect(await line(/lock/)).toBe(`ok  lock: open in process ${process.pid}, at http://127.0.0.1:5180/`)
    await lock.release(false)
    expect(await line(/lock/)).toMatch(/^!! .*cut off/)
    // To be looked at changes nothing of it.
    expect(await line(/lock/)).toMatch(/^!! .*cut off/)
  })

  it('tells of faults of our own that were logged, with their ids', async () => {
    expect(await line(/log of requests/)).toBe('')
    const asked = (status: number, id: string): string =>
      JSON.stringify({ time: '2026-11-30T08:00:00Z', method: 'GET', path: '/api/v1/jobs', status, id })
    mkdirSync(join(folder, 'logs'))
    writeFileSync(
      join(folder, 'logs/requests.log'),
      `${asked(500, 'a')}\n${asked(404, 'b')}\n${asked(500, 'c')}\n{"time`,
    )
    expect(await line(/log of requests/)).toMatch(/^!! .*2 faults.*GET \/api\/v1\/jobs, id c/)
  })

  it('tells a damaged store with what to do, and a port that is taken', async () => {
    writeFileSync(storeFile(folder), 'nothing of the kind')
    expect(await line(/store/)).toMatch(/^!! .*first bytes are of another kind.*npm run restore/)
    const taken = createServer().listen(0, '127.0.0.1')
    await new Promise((resolve) => taken.once('listening', resolve))
    const { port } = taken.address() as AddressInfo
    expect((await tellOfFolder(folder, port)).find((one) => one.includes('port'))).toMatch(/^!! .*is taken/)
    await new Promise((resolve) => taken.close(resolve))
    expect((await tellOfFolder(folder, port)).find((one) => one.includes('port'))).toMatch(/^ok .*is free/)
  })
})

describe('room on the disk', () => {
  it('is told in sizes that are read at a glance', () => {
    expect(spaceWords({ free: 83.1e9, whole: 270.5e9, isShort: false })).toBe('83 GB of 271 GB are free')
    expect(spaceWords({ free: 312e6, whole: 64e9, isShort: true })).toMatch(/^312 MB of 64 GB are free: make room/)
    expect(fullDiskWords(40e6)).toMatch(/some 80 MB are wanted/)
    expect(fullDiskWords(100)).not.toMatch(/wanted/)
  })

  it.each([
    [Object.assign(new Error('write'), { code: 'ENOSPC' }), true],
    // What crossed from a worker thread has lost its code.
    [new Error('ENOSPC: no space left on device, write'), true],
    [Object.assign(new Error('failed'), { parent: Object.assign(new Error('full'), { code: 'SQLITE_FULL' }) }), true],
    [Object.assign(new Error('failed'), { code: 'SQLITE_BUSY' }), false],
    [undefined, false],
  ])('%s: full is %s', (error, full) => expect(isDiskFull(error)).toBe(full))
})
