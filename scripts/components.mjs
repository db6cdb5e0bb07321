// Components as TypeScript files of their own: tools that are fast, as they are native, read nothing else.
import {
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  realpathSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { root } from './ready.mjs'

const SOURCES = join(root, 'web/src')

/**
 * Writes each component as `Name.vue.ts` beside the repository, whose packages and sources are laid under them, so that
 * what they import is found; and takes them away again.
 *
 * @param textOf what stands for a component of that source, at that path
 * @param use what is done with the folder, which has a `tsconfig.json` of its own
 * @returns what `use` returns
 */
export function withComponents(textOf, use) {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'yuzumix-components-')))
  try {
    for (const path of readdirSync(SOURCES, { recursive: true })) {
      if (!path.endsWith('.vue')) continue
      const to = join(folder, 'src', path)
      mkdirSync(dirname(to), { recursive: true })
      writeFileSync(`${to}.ts`, textOf(readFileSync(join(SOURCES, path), 'utf8'), to))
    }
    symlinkSync(join(root, 'node_modules'), join(folder, 'node_modules'), 'junction')
    writeFileSync(
      join(folder, 'tsconfig.json'),
      JSON.stringify({
        extends: join(root, 'web/tsconfig.json'),
        compilerOptions: { rootDirs: [SOURCES, 'src'], paths: { '@/*': [`${SOURCES}/*`, './src/*'] } },
        include: ['src', SOURCES, join(root, 'web/vite.config.ts'), join(root, 'core/src/**/*.d.ts')],
      }),
    )
    return use(folder)
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
