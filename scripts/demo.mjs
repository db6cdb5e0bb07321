import { join } from 'node:path'
import { build, install, root, run } from './ready.mjs'

install()
build()
// The demo has a folder of its own, never the user's.
process.env.YUZUMIX_DATA ??= join(root, '.yuzumix/demo')
run(process.execPath, [join(root, 'server/dist/demo.js')])
await import(`${root}server/dist/main.js`)
