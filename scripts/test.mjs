// Types, lint, unit and reference tests, browser tests; ends with one line summed from the runners' own results.
// With --quick: few seeds, and no browser.
import { spawnSync } from 'node:child_process'
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { chromium } from './chromium.mjs'
import { build, install, root } from './ready.mjs'

const isQuick = process.argv.includes('--quick')
install()
build()
const results = join(root, 'test-results')
rmSync(results, { recursive: true, force: true })
mkdirSync(results)

let passed = 0
let failed = 0
const call = (args, env = {}) =>
  spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } }).status ?? 1

function check(name, args) {
  console.log(`\n== ${name}`)
  if (call(args) === 0) passed++
  else failed++
}

/** Counts from a runner's own report; a runner that left none has failed. */
function count(name, file, args, env, read) {
  console.log(`\n== ${name}`)
  const status = call(args, env)
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

check('types', ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.json', '--noEmit'])
check('types of the interface', ['node_modules/vue-tsc/bin/vue-tsc.js', '-p', 'web/tsconfig.json', '--noEmit'])
check('lint', [
  'node_modules/eslint/bin/eslint.js',
  '--concurrency=auto',
  '--cache',
  '--cache-location=node_modules/.cache/eslint/',
  '.',
])
check('unused exports', ['node_modules/knip/bin/knip.js', '--no-progress'])
check('formatting', ['node_modules/prettier/bin/prettier.cjs', '--check', '.', '--log-level', 'warn'])
const unit = join(results, 'unit.json')
count(
  'unit and reference tests',
  unit,
  ['node_modules/jest/bin/jest.js', '--maxWorkers=2', '--json', `--outputFile=${unit}`],
  { YUZUMIX_SEEDS: isQuick ? 'quick' : 'all' },
  (report) => [report.numPassedTests, report.numFailedTests + report.numRuntimeErrorTestSuites],
)
if (!isQuick) {
  const browser = join(results, 'browser.json')
  count(
    'browser tests',
    browser,
    ['node_modules/@playwright/test/cli.js', 'test', '-c', 'e2e/playwright.config.ts'],
    { CHROMIUM_PATH: chromium(), PLAYWRIGHT_JSON_OUTPUT_NAME: browser },
    ({ stats, errors }) => [stats.expected + stats.flaky, stats.unexpected + errors.length],
  )
}

console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed ? 1 : 0)
