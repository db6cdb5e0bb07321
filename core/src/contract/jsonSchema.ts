import type { SchemaDescription } from 'yup'

export type Json = Record<string, unknown>

/** What a schema tells of itself, as far as a JSON Schema can say it. */
interface Description extends Partial<Omit<SchemaDescription, 'meta' | 'tests'>> {
  type: string
  meta?: {
    ref?: string
    about?: string | undefined
    description?: string | undefined
    json?: Json
    anyOf?: readonly Describing[]
  }
  tests?: { name?: string; params?: Record<string, unknown> }[]
  fields?: Record<string, unknown>
  innerType?: unknown
}
/** Anything that tells of itself: a Yup schema, also one chosen by the value. */
interface Describing {
  describe(): unknown
}

/**
 * Writes Yup schemas as JSON Schema (draft 2020-12). A schema whose meta names a `ref` becomes a component of its own, once,
 * with what its meta says `about` it.
 *
 * @param at address of a component by its name, as `#/$defs/Table`
 * @returns `write`, and the components met so far
 * @throws Error when two different schemas go by one name
 */
export function jsonSchemaWriter(at: (name: string) => string) {
  const components = new Map<string, Json>()

  function write(schema: unknown): Json {
    return named((schema as Describing).describe() as Description)
  }

  function named(one: Description): Json {
    const { ref, about, description } = one.meta ?? {}
    if (!ref) return plain(one)
    // What is said of a component belongs to it; what is said of one use of it stands beside the pointer.
    const whole = plain({ ...one, nullable: false, meta: { ...one.meta, description: about } })
    const known = components.get(ref)
    if (known && JSON.stringify(known) !== JSON.stringify(whole))
      throw new Error(`Two different schemas go by the name ${ref}.`)
    components.set(ref, whole)
    const there = { $ref: at(ref) }
    const beside = description ? { description } : {}
    return one.nullable ? { anyOf: [there, { type: 'null' }], ...beside } : { ...there, ...beside }
  }

  function plain(one: Description): Json {
    const { meta = {}, nullable, oneOf } = one
    const about = meta.description ? { description: meta.description } : {}
    if (meta.json) return { ...pointed(meta.json), ...about }
    if (meta.anyOf) {
      const variants = meta.anyOf.map((variant) => write(variant))
      return { anyOf: nullable ? [...variants, { type: 'null' }] : variants, ...about }
    }
    const type = (name: string): Json => ({ type: nullable ? [name, 'null'] : name })
    if (oneOf?.length) return { enum: nullable ? [...oneOf, null] : oneOf, ...about }
    switch (one.type) {
      case 'object':
        return { ...type('object'), ...about, ...members(one) }
      case 'array':
        return {
          ...type('array'),
          ...about,
          items: one.innerType ? named(one.innerType as Description) : {},
          ...limits(one),
        }
      case 'tuple': {
        const places = one.innerType as Description[]
        const all = { minItems: places.length, maxItems: places.length }
        return { ...type('array'), ...about, prefixItems: places.map(named), items: false, ...all }
      }
      case 'number':
        return { ...type(isWhole(one) ? 'integer' : 'number'), ...about, ...limits(one) }
      case 'string':
      case 'boolean':
        return { ...type(one.type), ...about, ...limits(one) }
      default:
        return about
    }
  }

  function members(one: Description): Json {
    const fields = Object.entries(one.fields ?? {}) as [string, Description][]
    const required = fields.filter(([, field]) => field.optional === false).map(([name]) => name)
    return {
      ...(required.length && { required }),
      ...(fields.length && { properties: Object.fromEntries(fields.map(([name, field]) => [name, named(field)])) }),
      ...(fields.length && testOf(one, 'noUnknown') && { additionalProperties: false }),
    }
  }

  const pointed = (json: Json): Json => (typeof json['$ref'] === 'string' ? { ...json, $ref: at(json['$ref']) } : json)
  return { write, components }
}

const testOf = ({ tests = [] }: Description, name: string): Record<string, unknown> | undefined => {
  const found = tests.findLast((one) => one.name === name)
  return found && (found.params ?? {})
}
const isWhole = (one: Description): boolean => testOf(one, 'integer') !== undefined

function limits(one: Description): Json {
  const [least, most, exact] = [testOf(one, 'min'), testOf(one, 'max'), testOf(one, 'length')?.['length']]
  const [low, high] =
    one.type === 'array'
      ? ['minItems', 'maxItems']
      : one.type === 'string'
        ? ['minLength', 'maxLength']
        : ['minimum', 'maximum']
  const pattern = testOf(one, 'matches')?.['regex']
  return {
    ...(least?.['min'] !== undefined && { [low]: least['min'] }),
    ...(least?.['more'] !== undefined && { exclusiveMinimum: least['more'] }),
    ...(most?.['max'] !== undefined && { [high]: most['max'] }),
    ...(exact !== undefined && { [low]: exact, [high]: exact }),
    ...(pattern instanceof RegExp && { pattern: pattern.source }),
  }
}
