import { build, install, root } from './ready.mjs'

install()
build()
await import(`${root}server/dist/main.js`)
