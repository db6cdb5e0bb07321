import { existsSync } from 'node:fs'
import { createServer } from 'node:net'
import { isRefusal } from '@yuzumix/core'
import chromiumPlaces from '../../../scripts/chromium-places.json'
import { listBackups, storeFile } from './backups'
import { lockFolder, ownerOf } from './lock'
import { faultOfFile } from './soundness'
import { spaceLeft, spaceWords } from './space'
import { faultsLogged } from './requestLog'
import { reachFolder } from './startingFaults'

/**
 * How it stands with the folder of the data, and with what else is needed, line by line: "ok" or "!!", and what to do.
 *
 * @param port that the server would listen on
 * @returns lines for a person to read
 */
export async function tellOfFolder(folder: string, port = Number(process.env['PORT'] ?? 5180)): Promise<string[]> {
  const lines: string[] = []
  const tell = (isWell: boolean, text: string): void => void lines.push(`${isWell ? 'ok' : '!!'}  ${text}`)
  const node = process.versions.node
  const isNode = /^(20\.(19|[2-9]\d)|2[12])\b/.test(node)
  tell(isNode, `Node ${node}${isNode ? '' : ': install a version from 20.19 on and below 23'}`)
  if (!existsSync(folder)) {
    tell(true, `folder ${folder}: none yet; the first start makes it`)
    return lines
  }
  try {
    reachFolder(folder)
    tell(true, `folder ${folder}`)
  } catch (error) {
    if (!isRefusal(error)) throw error
    tell(false, error.message)
    return lines
  }
  await tellLock(folder, tell)
  const store = storeFile(folder)
  if (existsSync(store)) {
    const fault = await faultOfFile(store, 'full')
    tell(
      !fault,
      fault ? `store ${store}: ${fault}. See the backups with: npm run restore` : 'store: whole, by a full check',
    )
  } else tell(true, 'store: none yet; the first start makes one')
  const [newest] = listBackups(folder)
  tell(
    !!newest || !existsSync(store),
    newest
      ? `backups: ${listBackups(folder).length}, the newest ${newest.name}`
      : 'backups: none yet. Make one with: npm run backup',
  )
  const space = await spaceLeft(folder)
  tell(!space.isShort, spaceWords(space))
  const faults = faultsLogged(folder)
  if (faults.length)
    tell(
      false,
      `log of requests: ${faults.length} faults of Yuzumix itself, the last ${faults.at(-1)!}. What it said then has that id`,
    )
  await tellPort(port, tell)
  const browser = [process.env['CHROMIUM_PATH'], ...chromiumPlaces].find((path) => path && existsSync(path))
  tell(
    !!browser,
    browser ? `Chromium for the tests: ${browser}` : 'Chromium, for the tests alone: npm test installs it',
  )
  return lines
}

async function tellLock(folder: string, tell: (isWell: boolean, text: string) => void): Promise<void> {
  try {
    const lock = await lockFolder(folder)
    const wasClosed = lock.wasClosed
    await lock.release(wasClosed)
    tell(
      wasClosed,
      wasClosed
        ? 'lock: nobody has it open'
        : 'lock: free; the last one to have it was cut off, and the next start looks through all of it',
    )
  } catch (error) {
    if (!isRefusal(error)) throw error
    const owner = ownerOf(folder)
    tell(true, `lock: open in process ${owner?.pid ?? 'unknown'}${owner?.address ? `, at ${owner.address}` : ''}`)
  }
}

const tellPort = (port: number, tell: (isWell: boolean, text: string) => void): Promise<void> =>
  new Promise((resolve) => {
    const probe = createServer()
    const done = (isFree: boolean): void => {
      tell(
        isFree,
        isFree
          ? `port ${port} is free`
          : `port ${port} is taken, perhaps by Yuzumix itself: else set PORT to another one`,
      )
      resolve()
    }
    probe.once('error', () => done(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)))
  })
