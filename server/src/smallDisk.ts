import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'

/** A file system of its own, so small that it is soon full, in a namespace of its own: no rights are needed for it. */
const SMALL = ['-rm', 'sh', '-c']
export const canMount = spawnSync('unshare', [...SMALL, 'mount -t tmpfs -o size=1m tmpfs /tmp']).status === 0

/** The built server on a disk of 12 MB, with a way to fill the disk and to make room on it. */
export class SmallDisk {
  address = ''
  private constructor(
    readonly child: ChildProcess,
    readonly folder: string,
    private readonly lines: AsyncIterator<string>,
  ) {}
  static async open(): Promise<SmallDisk> {
    const folder = mkdtempSync(join(tmpdir(), 'yuzumix-full-'))
    // The mount is made before the loop reads its first line.
    const script = `mount -t tmpfs -o size=12m tmpfs "${folder}"; node server/dist/main.js & pid=$!; while read line; do eval "$line"; echo done; done; kill $pid; wait`
    const env = { ...process.env, YUZUMIX_DATA: folder, PORT: '0', HOST: '127.0.0.1', YUZUMIX_LOG: 'silent' }
    const child = spawn('unshare', [...SMALL, script], {
      env,
      stdio: ['pipe', 'pipe', 'ignore'],
    })
    const lines = createInterface({ input: child.stdout! })[Symbol.asyncIterator]()
    const disk = new SmallDisk(child, folder, lines)
    disk.address = /http:\/\/\S+?(?=\/?$)/.exec(await disk.next())![0]
    return disk
  }
  private async next(): Promise<string> {
    return String((await this.lines.next()).value)
  }
  /** Runs a command of the shell beside the server, on the same disk. */
  async shell(command: string): Promise<void> {
    this.child.stdin!.write(`${command}\n`)
    while ((await this.next()) !== 'done');
  }
  /** Takes all room but some kB. */
  fill(left: number): Promise<void> {
    return this.shell(
      `head -c $(( ($(df -k --output=avail "${this.folder}" | tail -1) - ${left}) * 1024 )) /dev/zero > "${this.folder}/ballast" 2>/dev/null`,
    )
  }
  makeRoom(): Promise<void> {
    return this.shell(`rm -f "${this.folder}/ballast"`)
  }
  async close(): Promise<void> {
    const ended = once(this.child, 'exit')
    this.child.stdin!.end()
    await ended
    rmSync(this.folder, { recursive: true, force: true })
  }
}
