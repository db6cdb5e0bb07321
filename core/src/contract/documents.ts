import { string } from 'yup'
import { TABLE_FORMAT, tableSchema } from './tableJson'
import { archiveSchema } from './archive'
import { closed, text, amount } from './fields'
import { jsonSchemaWriter, type Json } from './jsonSchema'

/** A JSON Schema document of its own. */
function document(title: string, schema: unknown): Json {
  const { write, components } = jsonSchemaWriter((name) => `#/$defs/${name}`)
  const body = write(schema)
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title,
    ...body,
    ...(components.size && { $defs: Object.fromEntries(components) }),
  }
}

/** JSON Schema of job.json in an archive. */
export function archiveDocument(): Json {
  return document('Yuzumix job archive, job.json', archiveSchema)
}

/** JSON Schema of a table exported as JSON. */
export function tableDocument(): Json {
  return document(
    'Yuzumix table',
    closed({
      format: string().oneOf([TABLE_FORMAT]).required(),
      name: text(200),
      revision: amount(1, 1e6).integer(),
      reason: text(500),
      ...tableSchema.fields,
    }).meta({ description: 'One table on rpm x load breakpoints. values is [load][rpm], load rising.' }),
  )
}
