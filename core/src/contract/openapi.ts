import { benchMessageSchema, benchWishSchema } from './bench'
import { ALL_CALLS, NAMED_SCHEMAS, problemsOf, type NamedCall } from './calls/calls'
import { jobNewsSchema } from './news'
import { jsonSchemaWriter, type Json } from './jsonSchema'
import { problemSchema } from './problem'

const PROBLEMS: Record<number, string> = {
  400: 'The input is refused; errors[] name the fields.',
  401: 'Asked from beyond this machine by somebody who is not let in.',
  403: 'Asked by the page of another site, or by somebody who only watches.',
  404: 'Something named in the path is not there.',
  409: 'It cannot be done as things stand.',
  412: 'It was changed since it was read (If-Match).',
  413: 'The file is too large.',
  415: 'The body is of another kind than this call takes.',
  422: 'The input is in order but nothing can be made of it.',
  429: 'Too many tries; Retry-After says when to try again.',
  507: 'The disk is full; nothing was stored.',
}

/** The OpenAPI 3.1 document of the HTTP interface, from the contract. @param version of the application */
export function openapi(version: string): Json {
  const { write, components } = jsonSchemaWriter((name) => `#/components/schemas/${name}`)
  for (const schema of [...NAMED_SCHEMAS, benchWishSchema, benchMessageSchema, jobNewsSchema, problemSchema])
    write(schema)
  const json = (schema: unknown): Json => ({ 'application/json': { schema: write(schema) } })

  function operation(one: NamedCall): Json {
    const { summary, description, query = {}, body, form, answer, status } = one
    const named = [...one.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!)
    const parameters = [
      ...named.map((name) => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
      ...Object.entries(query).map(([name, what]) => ({
        name: name.replace('?', ''),
        in: 'query',
        required: !name.endsWith('?'),
        description: what,
        schema: { type: 'string' },
      })),
    ]
    const problems = problemsOf(one)
    const others = Object.fromEntries((one.also ?? []).map((type) => [type, {}]))
    const content =
      answer === undefined
        ? {}
        : { content: { ...(typeof answer === 'string' ? { [answer]: {} } : json(answer)), ...others } }
    return {
      summary,
      ...(description && { description }),
      operationId: one.name,
      ...(parameters.length && { parameters }),
      ...(body && { requestBody: { required: one.path !== '/jobs/{job}/field', content: json(body) } }),
      ...(form && { requestBody: { required: true, content: { 'multipart/form-data': { schema: write(form) } } } }),
      responses: {
        [status]: { description: status === 204 ? 'Done.' : 'What was asked for.', ...content },
        ...(one.method === 'get' && { 304: { description: 'As it was asked for last (If-None-Match).' } }),
        ...Object.fromEntries(problems.map((code) => [code, { $ref: `#/components/responses/Problem${code}` }])),
      },
    }
  }

  const paths: Record<string, Json> = {}
  for (const one of ALL_CALLS) paths[one.path] = { ...paths[one.path], [one.method]: operation(one) }
  const responses = Object.fromEntries(
    Object.entries(PROBLEMS).map(([code, description]) => [
      `Problem${code}`,
      { description, content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } } },
    ]),
  )
  return {
    openapi: '3.1.0',
    info: {
      title: 'Yuzumix',
      version,
      license: { name: 'MIT', identifier: 'MIT' },
      description:
        'The interface that the application itself uses. Everything lies under /api/v1. Errors are problem documents (RFC 9457) whose errors[] name the field, line or column. Unknown fields are refused by name. Matrices are [load][rpm], load rising, with null where nothing is known. A POST with an Idempotency-Key is made once; a PATCH with the ETag of what it changes in If-Match is refused where that was changed meanwhile.',
    },
    servers: [{ url: '/api/v1' }],
    security: [],
    paths,
    components: { responses, schemas: Object.fromEntries([...components].sort(([a], [b]) => (a < b ? -1 : 1))) },
  }
}
