import Ajv from 'ajv/dist/2020'
import { array, lazy, number, object, string, tuple } from 'yup'
import { checkInput } from './checkInput'
import { amount, choice, closed, matrix, text } from './fields'
import { jsonSchemaWriter } from './jsonSchema'

const written = (schema: unknown) => {
  const { write, components } = jsonSchemaWriter((name) => `#/$defs/${name}`)
  const body = write(schema)
  return { ...body, $defs: Object.fromEntries(components) }
}

describe('a Yup schema as JSON Schema', () => {
  it('says limits, what is required, and that nothing else is known', () => {
    const { $defs: _, ...body } = written(
      closed({
        title: text(160).min(1).required(),
        cylinders: amount(1, 12).integer(),
        inertia: number().moreThan(0).nullable().defined(),
        use: choice(['road', 'track']).nullable(),
        points: array().of(number().required()).min(2).required(),
        pair: tuple([number().required(), string().required()]),
      }),
    )
    expect(body).toEqual({
      type: 'object',
      required: ['title', 'inertia', 'points'],
      additionalProperties: false,
      properties: {
        title: { type: 'string', minLength: 1, maxLength: 160 },
        cylinders: { type: 'integer', minimum: 1, maximum: 12 },
        inertia: { type: ['number', 'null'], exclusiveMinimum: 0 },
        use: { enum: ['road', 'track', null] },
        points: { type: 'array', items: { type: 'number' }, minItems: 2 },
        pair: {
          type: 'array',
          prefixItems: [{ type: 'number' }, { type: 'string' }],
          items: false,
          minItems: 2,
          maxItems: 2,
        },
      },
    })
  })
  it('a named schema is written once, wherever it is used, null or not', () => {
    const air = closed({ kpa: amount(50, 110).required() }).meta({ ref: 'Air', about: 'as it stands at the place' })
    const body = written(
      object({
        here: air.required(),
        there: air.nullable().optional().default(undefined).meta({ description: 'abroad' }),
      }),
    )
    expect(body).toMatchObject({
      properties: {
        here: { $ref: '#/$defs/Air' },
        there: { anyOf: [{ $ref: '#/$defs/Air' }, { type: 'null' }], description: 'abroad' },
      },
      $defs: { Air: { description: 'as it stands at the place', required: ['kpa'] } },
    })
  })
  it('two different schemas cannot go by one name', () => {
    const [a, b] = [text(1).meta({ ref: 'Word' }), text(2).meta({ ref: 'Word' })]
    expect(() => written(object({ a, b }))).toThrow(/Two different schemas go by the name Word/)
  })
  it('what is chosen by the value is any of its variants', () => {
    const [flat, many] = [amount(0.5, 1.6), array().of(amount(0.5, 1.6).required())]
    const either = lazy((value: unknown) => (Array.isArray(value) ? many : flat) as never).meta({ anyOf: [flat, many] })
    expect(written(object({ either }))).toMatchObject({
      properties: { either: { anyOf: [{ type: 'number' }, { type: 'array' }] } },
    })
  })

  // A general validator reads what was written as the check at the door does.
  it.each([
    [{ cells: [[1, 2]], n: 3 }, true],
    [{ cells: [[1, 'x']], n: 3 }, false],
    [{ cells: [[1]], n: 2.5 }, false],
    [{ cells: [[1]], n: 40 }, false],
    [{ cells: [[1]], n: 3, more: 1 }, false],
    [{ n: 3 }, false],
    [{ cells: null, n: 3 }, false],
  ])('%j: the door and a general validator say the same', (value, fits) => {
    const schema = closed({ cells: matrix(), n: amount(1, 12).integer().required() })
    expect(new Ajv({ strict: false }).compile(written(schema))(value)).toBe(fits)
    const door = (): unknown => checkInput(schema, value)
    if (fits) expect(door()).toEqual(value)
    else expect(door).toThrow(expect.objectContaining({ code: 'input-refused' }))
  })
})
