import { readFileSync } from 'node:fs'
import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  outputDir: '../test-results/browser',
  // A loaded machine is no fault.
  timeout: 180_000,
  expect: { timeout: 45_000 },
  globalSetup: './globalSetup.ts',
  // Two share the cores that there are: a browser and a server each.
  workers: 2,
  reporter: [['list'], ['json']],
  use: {
    viewport: { width: 1280, height: 800 },
    // What glides is painted sixty times a second by the processor here; `path.spec` shows it as most people see it.
    contextOptions: { reducedMotion: 'reduce' },
    actionTimeout: 30_000,
    // Recording takes a seventh of the time: YUZUMIX_TRACE=1 where a failure is to be looked at.
    trace: process.env['YUZUMIX_TRACE'] ? 'retain-on-failure' : 'off',
    launchOptions: {
      executablePath: process.env['CHROMIUM_PATH'] ?? '/usr/bin/chromium',
      args: JSON.parse(readFileSync(new URL('../scripts/chromium-args.json', import.meta.url), 'utf8')) as string[],
    },
  },
})
