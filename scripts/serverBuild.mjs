import { readFileSync } from 'node:fs'
import { root } from './ready.mjs'

const { dependencies } = JSON.parse(readFileSync(`${root}server/package.json`, 'utf8'))

/** How server, worker, demo and measurements are bundled. */
export const SERVER_BUILD = {
  entryPoints: {
    main: 'server/src/main.ts',
    worker: 'server/src/pool/worker.ts',
    keep: 'server/src/keep.ts',
    demo: 'demo/main.ts',
    lines: 'demo/lines.ts',
    bench: 'benchmarks/main.ts',
  },
  outdir: 'server/dist',
  absWorkingDir: root,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: true,
  external: [
    ...Object.keys(dependencies).filter((name) => !name.startsWith('@yuzumix/')),
    'yup',
    'papaparse',
    '@playwright/test',
  ],
  logLevel: 'warning',
}
