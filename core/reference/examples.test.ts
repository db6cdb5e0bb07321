import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'

const SOURCES = join(__dirname, '../src')

/** An example of a docstring that says what comes of it: `median([1, 2, 3]) // 2`. */
interface Example {
  file: string
  expression: string
  value: string
}

const sources = (readdirSync(SOURCES, { recursive: true }) as string[]).filter(
  (name) => name.endsWith('.ts') && !name.endsWith('.test.ts'),
)
const examples = sources.flatMap((file): Example[] =>
  [...readFileSync(join(SOURCES, file), 'utf8').matchAll(/@example\n((?:\s+\* .*\n)+)/g)].flatMap(([, lines]) =>
    lines!
      .split('\n')
      .map((line) => / \* (?:const .*? = )?(.+?) \/\/ (.+)$/.exec(line))
      .flatMap((found) => (found ? [{ file, expression: found[1]!, value: found[2]! }] : [])),
  ),
)
/** Everything that is exported anywhere, by its name: an example may use what stands beside it. */
const everything = Object.assign(
  {},
  ...sources.filter((file) => file !== 'index.ts').map((file) => jest.requireActual<object>(join(SOURCES, file))),
) as Record<string, unknown>
const evaluate = (code: string): unknown =>
  // The examples are the project's own.
  // oxlint-disable-next-line typescript/no-implied-eval
  (new Function('all', `with (all) { return (${code}) }`) as (all: object) => unknown)(everything)

describe('examples in docstrings come to what they say', () => {
  it.each(examples)('$file: $expression', ({ expression, value }) => {
    const [found, told] = [evaluate(expression), evaluate(value)]
    if (typeof told === 'number') expect(found).toBeCloseTo(told, 3)
    else if (Array.isArray(told) && told.every((one) => typeof one === 'number'))
      told.forEach((one, k) => expect((found as number[])[k]).toBeCloseTo(one, 6))
    else expect(found).toEqual(told)
  })
  it('there are some in the rooms that a newcomer enters first', () => {
    expect(examples.length).toBeGreaterThan(15)
  })
})
