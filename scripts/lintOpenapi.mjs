// Says what a general linter finds in docs/openapi.yaml; nothing when all is well.
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { createConfig, lintFromString } from '@redocly/openapi-core'
import { root } from './ready.mjs'

const absoluteRef = join(root, 'docs/openapi.yaml')
// The stream's messages are told beside the calls: the test of the document asks for every other component to be used.
const config = await createConfig({
  extends: ['recommended'],
  rules: { 'no-unused-components': 'off' },
  telemetry: 'off',
})
const problems = await lintFromString({ source: readFileSync(absoluteRef, 'utf8'), absoluteRef, config })
for (const { severity, ruleId, message, location } of problems)
  console.log(`${severity} ${ruleId}: ${message} (${location[0]?.pointer})`)
