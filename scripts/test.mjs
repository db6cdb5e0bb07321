// Types, lint, unit and reference tests, browser tests; ends with one line summed from the runners' own results.
// With --quick: few seeds, no servers and no browser.
import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from './chromium.mjs'
import { build, install, root } from './ready.mjs'

const isQuick = process.argv.includes('--quick')
install()
if (!isQuick) build()
const results = join(root, 'test-results')
rmSync(results, { recursive: true, force: true })
mkdirSync(results)

let passed = 0
let failed = 0

/** What runs by itself is shown as it goes; of two at a time each is shown in one piece when it ends. */
let isAlone = false
function call(name, args, env = {}) {
  return new Promise((resolve) => {
    if (isAlone) console.log(`\n== ${name}`)
    const stdio = isAlone ? 'inherit' : ['ignore', 'pipe', 'pipe']
    const child = spawn(process.execPath, args, { cwd: root, stdio, env: { ...process.env, ...env } })
    if (isAlone) {
      child.on('close', (status) => resolve(status ?? 1))
      return
    }
    const said = []
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => said.push(part))
    child.on('close', (status) => {
      console.log(`\n== ${name}`)
      process.stdout.write(Buffer.concat(said))
      resolve(status ?? 1)
    })
  })
}

async function check(name, args, env) {
  if ((await call(name, args, env)) === 0) passed++
  else failed++
}

/** Counts from a runner's own report; a runner that left none has failed. */
async function count(name, file, args, env, read) {
  const status = await call(name, args, env)
  try {
    const [good, bad] = read(JSON.parse(readFileSync(file, 'utf8')))
    passed += good
    failed += bad
    if (status !== 0 && bad === 0) failed++
  } catch {
    console.error(`${name} left no report.`)
    failed++
  }
}

async function checks() {
  await check('types', [
    'node_modules/typescript7/bin/tsc',
    '-p',
    'tsconfig.json',
    '--noEmit',
    '--incremental',
    '--tsBuildInfoFile',
    join(root, 'node_modules/.cache/types'),
  ])
  await check('types of what both are', ['node_modules/typescript7/bin/tsc', '-p', 'e2e/both'])
  await check('types of the interface', ['scripts/webTypes.mjs'])
  await check('lint', ['scripts/lint.mjs'])
  await check('walls', ['scripts/wallsHold.mjs'])
  await check('unused exports', ['node_modules/knip/bin/knip.js', '--no-progress'])
  await check('formatting', ['node_modules/oxfmt/bin/oxfmt', '--check', '.'])
}
function unitTests() {
  const unit = join(results, 'unit.json')
  return count(
    'unit and reference tests',
    unit,
    [
      // What lives for one case of many is collected in fewer, larger goes: a tenth of the time.
      '--max-semi-space-size=64',
      'node_modules/jest/bin/jest.js',
      '--maxWorkers=2',
      '--json',
      `--outputFile=${unit}`,
      ...(isQuick ? ['--selectProjects', 'core', 'reference', 'trials', 'server', 'web'] : []),
    ],
    { YUZUMIX_SEEDS: isQuick ? 'quick' : 'all' },
    (report) => [report.numPassedTests, report.numFailedTests + report.numRuntimeErrorTestSuites],
  )
}
function browserTests() {
  const browser = join(results, 'browser.json')
  return count(
    'browser tests',
    browser,
    ['node_modules/@playwright/test/cli.js', 'test', '-c', 'e2e/playwright.config.ts'],
    { CHROMIUM_PATH: chromium(), YUZUMIX_E2E_DEMO: demo, PLAYWRIGHT_JSON_OUTPUT_NAME: browser },
    ({ stats, errors }) => [stats.expected + stats.flaky, stats.unexpected + errors.length],
  )
}

/** The demo's store, filled while one core is free: the browser tests work on copies of it. */
const demo = mkdtempSync(join(tmpdir(), 'yuzumix-demo-'))
async function fillDemo() {
  await check('demo', ['server/dist/demo.js'], { YUZUMIX_DATA: demo })
}

// Types and lint use one core, so that they run beside the tests of the core; the browser has the machine for itself.
await Promise.all([checks().then(() => isQuick || fillDemo()), unitTests()])
isAlone = true
if (!isQuick) await browserTests()
rmSync(demo, { recursive: true, force: true })

console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed ? 1 : 0)
