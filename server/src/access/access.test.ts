import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openAccess } from './access'

let folder: string
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'yuzumix-access-'))))
afterEach(() => rmSync(folder, { recursive: true }))

describe('who may come in', () => {
  it('nobody without a passphrase; with it whoever knows it, also after a restart', async () => {
    const access = openAccess(folder)
    expect(await access.enter('anything at all')).toBeNull()
    await expect(access.setPassphrase('short')).rejects.toThrow(/10 characters/)
    await access.setPassphrase('curlew at the ford')
    expect(await access.enter('curlew at the fort')).toBeNull()
    const token = (await access.enter('curlew at the ford'))!
    expect(access.roleOf(token)).toBe('work')
    const again = openAccess(folder)
    expect([again.hasPassphrase(), again.roleOf(token), again.roleOf(`${token}x`), again.roleOf('')]).toEqual([
      true,
      'work',
      null,
      null,
    ])
    // The same letter, written as one sign or as two.
    await again.setPassphrase('Z\u00fcgig an der Furt')
    expect(again.roleOf(token)).toBeNull()
    expect(await again.enter('Zu\u0308gig an der Furt')).not.toBeNull()
  })
  it('keeps neither passphrase nor token, and its file for itself', async () => {
    const access = openAccess(folder)
    await access.setPassphrase('curlew at the ford')
    const token = (await access.enter('curlew at the ford'))!
    const path = join(folder, 'access.json')
    const text = readFileSync(path, 'utf8')
    expect(text).not.toContain('curlew')
    expect(text).not.toContain(token)
    expect(statSync(path).mode & 0o077).toBe(0)
  })
  it('a code lets one in, once, for five minutes, as what it says', () => {
    let now = Date.parse('2026-01-01T00:00:00Z')
    const access = openAccess(folder, () => now)
    const watch = access.makeCode('watch')
    expect(access.join('none')).toBeNull()
    const token = access.join(` ${watch.code.toUpperCase()} `)!
    expect(access.roleOf(token)).toBe('watch')
    expect(access.join(watch.code)).toBeNull()
    const late = access.makeCode('work')
    now += 5 * 60_000 + 1
    expect(access.join(late.code)).toBeNull()
    expect(new Set(Array.from({ length: 40 }, () => access.makeCode('work').code)).size).toBe(40)
    now += 91 * 86_400_000
    expect(access.roleOf(token)).toBeNull()
  })
  it('one leaves, or all at once', async () => {
    const access = openAccess(folder)
    const [one, two] = ['work', 'watch'].map((role) => access.join(access.makeCode(role as 'work').code)!)
    expect(access.sessions().map(({ role }) => role)).toEqual(['work', 'watch'])
    access.leave(one!)
    expect([access.roleOf(one!), access.roleOf(two!)]).toEqual([null, 'watch'])
    const open = access.makeCode('work')
    expect(access.leaveAll()).toBe(1)
    expect([access.roleOf(two!), access.join(open.code)]).toEqual([null, null])
  })
  it('a passphrase set from the command line beside a server that runs holds at once, and is not put back by it', async () => {
    const access = openAccess(folder)
    await access.setPassphrase('curlew at the ford')
    const token = (await access.enter('curlew at the ford'))!
    let told = 0
    const unlisten = access.listen(() => told++)
    await openAccess(folder).setPassphrase('dunlin on the bar')
    expect([access.roleOf(token), told]).toEqual([null, 1])
    expect(await access.enter('curlew at the ford')).toBeNull()
    expect(await access.enter('dunlin on the bar')).not.toBeNull()
    expect(await openAccess(folder).enter('dunlin on the bar')).not.toBeNull()
    unlisten()
    access.leaveAll()
    expect(told).toBe(1)
  })
  it('a passphrase that is replaced while it is tried lets nobody in', async () => {
    const access = openAccess(folder)
    await access.setPassphrase('curlew at the ford')
    const tried = access.enter('curlew at the ford')
    await openAccess(folder).setPassphrase('dunlin on the bar')
    await access.enter('something else')
    const later = access.enter('dunlin on the bar')
    access.setNames(['shed.local'])
    expect([(await tried) === null || access.roleOf((await tried)!) === null, (await later) !== null]).toEqual([
      true,
      true,
    ])
  })
  it('a file that is damaged lets nobody in', () => {
    writeFileSync(join(folder, 'access.json'), '{"names":')
    expect(() => openAccess(folder)).toThrow(/npm run passphrase/)
  })
})
