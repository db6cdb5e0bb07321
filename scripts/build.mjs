import { writeFileSync } from 'node:fs'
import { build } from 'esbuild'
import { notice } from './notice.mjs'
import { run, root } from './ready.mjs'
import { SERVER_BUILD } from './serverBuild.mjs'

console.log('Building ...')
await build(SERVER_BUILD)
run(process.execPath, [`${root}node_modules/vite/bin/vite.js`, 'build', 'web', '--logLevel', 'warn'])
writeFileSync(`${root}web/dist/NOTICE.txt`, notice())
