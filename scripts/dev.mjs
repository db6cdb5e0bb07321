// Server and interface with reload, on the demo's store: the server is built anew and restarted when its sources change.
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import concurrently from 'concurrently'
import { context } from 'esbuild'
import { SERVER_BUILD } from './serverBuild.mjs'
import { build, install, root, run } from './ready.mjs'

install()
build()
process.env.YUZUMIX_DATA ??= join(root, '.yuzumix/demo')
run(process.execPath, [join(root, 'server/dist/demo.js')])
let server = null
const restart = {
  name: 'restart',
  setup(plugin) {
    plugin.onEnd(({ errors }) => {
      if (errors.length) return
      server?.kill()
      server = spawn(process.execPath, [join(root, 'server/dist/main.js')], { stdio: 'inherit' })
    })
  },
}
const watching = await context({ ...SERVER_BUILD, plugins: [restart] })
await watching.watch()
const { result } = concurrently([{ command: 'npm run dev -w web', name: 'interface', cwd: root }])
await result.catch(() => undefined)
server?.kill()
await watching.dispose()
