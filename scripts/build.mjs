import { readFileSync } from 'node:fs'
import { build } from 'esbuild'
import { run, root } from './ready.mjs'

console.log('Building ...')
const { dependencies } = JSON.parse(readFileSync(`${root}server/package.json`, 'utf8'))
const external = [...Object.keys(dependencies).filter((name) => !name.startsWith('@yuzumix/')), 'yup', 'papaparse']

await build({
  entryPoints: {
    main: 'server/src/main.ts',
    worker: 'server/src/pool/worker.ts',
    demo: 'demo/main.ts',
    bench: 'benchmarks/main.ts',
  },
  outdir: 'server/dist',
  absWorkingDir: root,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: true,
  external,
  logLevel: 'warning',
})
run(process.execPath, ['node_modules/vite/bin/vite.js', 'build', 'web', '--logLevel', 'warn'])
