import { join } from 'node:path'
import { build, install, root, run } from './ready.mjs'
import { serve } from './serve.mjs'

install()
build()
// The demo has a folder of its own, never the user's store, also where YUZUMIX_DATA names that.
process.env.YUZUMIX_DATA = process.env.YUZUMIX_DATA
  ? join(process.env.YUZUMIX_DATA, 'demo')
  : join(root, '.yuzumix/demo')
run(process.execPath, [join(root, 'server/dist/demo.js')])
serve()
