// Types of the interface. The native compiler reads what the components' own checker makes of them, a third of the time;
// where it finds anything, that checker is asked: it tells where in the component that is, and its word counts.
import { createParsedCommandLine, createVueLanguagePlugin, forEachEmbeddedCode } from '@vue/language-core'
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import ts from 'typescript'
import { withComponents } from './components.mjs'
import { root } from './ready.mjs'

const { vueOptions, options } = createParsedCommandLine(ts, ts.sys, join(root, 'web/tsconfig.json'))
const plugin = createVueLanguagePlugin(ts, options, vueOptions, (id) => id)

/** A component, template and all, as TypeScript. */
function typesOf(source, path) {
  const component = plugin.createVirtualCode(path, 'vue', ts.ScriptSnapshot.fromString(source))
  const script = [...forEachEmbeddedCode(component)].find(({ id }) => id.startsWith('script_'))
  if (!script) throw new Error(`${path} has no script.`)
  return script.snapshot.getText(0, script.snapshot.getLength())
}

const node = (stdio, ...args) => spawnSync(process.execPath, args, { cwd: root, stdio }).status === 0
const isRight =
  withComponents(typesOf, (folder) => node('ignore', 'node_modules/typescript7/bin/tsc', '-p', folder, '--noEmit')) ||
  node('inherit', 'node_modules/vue-tsc/bin/vue-tsc.js', '-p', 'web/tsconfig.json', '--noEmit')
process.exitCode = isRight ? 0 : 1
