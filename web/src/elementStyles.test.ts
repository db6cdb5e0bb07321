import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'

describe('styles of the components that are used', () => {
  const files = readdirSync(__dirname, { recursive: true, encoding: 'utf8' }).filter((name) =>
    /(?<!\.test)\.(vue|ts)$/.test(name),
  )
  const used = new Set(
    files.flatMap((name) =>
      [...readFileSync(join(__dirname, name), 'utf8').matchAll(/import \{([^}]*)\} from 'element-plus'/g)].flatMap(
        ([, names]) => names!.match(/\bEl[A-Z]\w*/g) ?? [],
      ),
    ),
  )
  const folder = (name: string): string => {
    const kebab = name.slice(2).replace(/(?!^)[A-Z]/g, (letter) => `-${letter}`)
    return kebab.toLowerCase()
  }
  const listed = [
    ...readFileSync(join(__dirname, 'elementStyles.ts'), 'utf8').matchAll(/components\/([\w-]+)\/style\/css/g),
  ].map(([, name]) => name!)

  it('are all listed, and no others', () => {
    expect(used.size).toBeGreaterThan(15)
    expect([...listed].sort()).toEqual([...new Set([...used].map(folder))].sort())
  })
})
