import { join } from 'node:path'
import { build, install, root, run } from './ready.mjs'

install()
build()
run(process.execPath, [join(root, 'server/dist/bench.js'), ...process.argv.slice(2)])
