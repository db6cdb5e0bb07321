import { execFile, execFileSync } from 'node:child_process'
import { cp, mkdir, mkdtemp, readdir, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { build } from 'esbuild'
import { openStore } from './database'
import { migrations } from './migrations'

const ROOT = join(__dirname, '../../..')
let folder: string
let killer: string
let script: string
let made = 0

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yuzumix-kill-'))
  // The compiler that builds the database driver is here, too.
  killer = join(folder, 'killAtSync.so')
  execFileSync('cc', ['-shared', '-fPIC', '-o', killer, join(__dirname, 'killAtSync.c'), '-ldl'])
  // Inside the repository, so that its packages are found.
  script = join(ROOT, 'node_modules/.cache/yuzumix', `openStore-${process.pid}.cjs`)
  await mkdir(join(script, '..'), { recursive: true })
  await build({
    stdin: {
      contents: `import { openStore } from './database'; openStore(process.argv[2]).then((store) => store.close())`,
      resolveDir: __dirname,
      loader: 'ts',
    },
    bundle: true,
    platform: 'node',
    format: 'cjs',
    external: ['sequelize', 'sqlite3', 'umzug'],
    alias: { '@yuzumix/core': join(ROOT, 'core/src/index.ts') },
    outfile: script,
    logLevel: 'error',
  })
})
afterAll(async () => {
  await rm(folder, { recursive: true, force: true })
  await rm(script, { force: true })
})

/** Opens a store in a process of its own. @returns how that ended: 'opened', 'killed', or what it said */
function open(store: string, env: Record<string, string> = {}): Promise<string> {
  return new Promise((resolve) =>
    execFile(
      process.execPath,
      [script, store],
      { env: { ...process.env, LD_PRELOAD: killer, ...env } },
      (error, _out, said) => resolve(error ? (error.signal === 'SIGKILL' ? 'killed' : said) : 'opened'),
    ),
  )
}

async function makeTemplate(template: string, count: number): Promise<void> {
  await mkdir(template, { recursive: true })
  await (await openStore(template, migrations.slice(0, count))).close()
}

/** Made once each: two copies are taken at the same time. */
const templates: Record<number, Promise<void>> = {}
/** A copy of a store that the first migrations made; none for a new one. */
async function storeAfter(count: number): Promise<string> {
  const store = join(folder, `store-${++made}`)
  await mkdir(store)
  if (count > 0) {
    const template = join(folder, `after-${count}`)
    templates[count] ??= makeTemplate(template, count)
    await templates[count]
    await cp(template, store, { recursive: true })
  }
  return store
}

jest.setTimeout(180_000)

/** While one works, the first and the last sync of the last step alone; all of them before a push. */
const isQuick = process.env['YUZUMIX_SEEDS'] === 'quick'
// A new store goes through every sync of every step; one that lacks the last is what most have. What lies between is
// a part of the first.
const last = migrations.length - 1
const counts = isQuick ? [last] : [0, last]

describe.each(counts)('a store after %i migrations', (count) => {
  it('opens after a kill at every sync of its opening', async () => {
    const copies = join(folder, `copies-${count}`)
    await mkdir(copies)
    const store = await storeAfter(count)
    expect(await open(store, { STORE: store, COPIES: copies })).toBe('opened')
    const syncs = (await readdir(copies)).length
    expect(syncs).toBeGreaterThan(2)
    // Two that were killed indeed, and of all others what a kill there leaves.
    const killed = await Promise.all(
      [1, syncs].map(async (at) => {
        const one = await storeAfter(count)
        return [await open(one, { KILL_AT_SYNC: String(at) }), one] as const
      }),
    )
    expect(killed.map(([end]) => end)).toEqual(['killed', 'killed'])
    const rest = isQuick ? [] : Array.from({ length: syncs }, (_, k) => join(copies, String(k + 1)))
    for (const left of [...killed.map(([, one]) => one), ...rest]) await (await openStore(left)).close()
  })
})
