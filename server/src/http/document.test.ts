import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import Ajv from 'ajv/dist/2020'
import { parse } from 'yaml'
import { archiveDocument, openapi, tableDocument } from '@yuzumix/core'
import { api, CSV, TABLE, root, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()
const newJob: TestServer['newJob'] = (...args) => server.newJob(...args)
const upload: TestServer['upload'] = (...args) => server.upload(...args)

describe('document and code', () => {
  const document = parse(readFileSync(join(root, 'docs/openapi.yaml'), 'utf8')) as {
    paths: Record<string, Record<string, unknown>>
    components: Record<string, object>
  }

  it('name the same calls', () => {
    const routes = new Set<string>()
    interface Layer {
      route?: { path: string | RegExp; methods: Record<string, boolean> }
      handle?: { stack?: Layer[] }
    }
    const walk = (stack: Layer[]): void =>
      stack.forEach((layer) => {
        if (layer.route && typeof layer.route.path === 'string')
          for (const method of Object.keys(layer.route.methods))
            routes.add(`${method} ${layer.route.path.replace(/:(\w+)/g, '{$1}')}`)
        if (layer.handle?.stack) walk(layer.handle.stack)
      })
    walk((server.routes as unknown as { router: { stack: Layer[] } }).router.stack)
    const documented = Object.entries(document.paths).flatMap(([path, methods]) =>
      Object.keys(methods)
        .filter((key) => key !== 'parameters')
        .map((method) => `${method} ${path}`),
    )
    expect([...routes].sort()).toEqual(documented.sort())
  })

  it('the document written from the contract is the one that is served and the one in docs', async () => {
    const { version } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { version: string }
    expect(document).toEqual(JSON.parse(JSON.stringify(openapi(version))))
    const { body } = await server.call().get(api('/openapi.json'))
    // The one of the tests runs under a version of its own.
    expect({ ...body, info: { ...body.info, version } }).toEqual(document)
  })
  it('the schemas in docs are written from the contract', () => {
    const inDocs = (name: string): unknown => JSON.parse(readFileSync(join(root, 'docs', name), 'utf8'))
    expect(inDocs('job.schema.json')).toEqual(JSON.parse(JSON.stringify(archiveDocument())))
    expect(inDocs('table.schema.json')).toEqual(JSON.parse(JSON.stringify(tableDocument())))
  })
  it('a general linter of OpenAPI has nothing to say to it', () => {
    // In a process of its own: the linter is an ES module, which Jest on Node 20 does not load.
    const said = execFileSync(process.execPath, [join(root, 'scripts/lintOpenapi.mjs')], { encoding: 'utf8' })
    expect(said).toBe('')
  })
  it('every pointer in it leads somewhere, and no component stands there for nothing', () => {
    const text = JSON.stringify(document)
    const pointed = [...text.matchAll(/"\$ref":"#\/components\/(\w+)\/(\w+)"/g)].map(
      ([, kind, name]) => `${kind}/${name}`,
    )
    const there = Object.entries(document.components).flatMap(([kind, all]) =>
      Object.keys(all).map((name) => `${kind}/${name}`),
    )
    expect(pointed.filter((one) => !there.includes(one))).toEqual([])
    const streamed = ['schemas/BenchWish', 'schemas/BenchMessage', 'schemas/JobNews']
    expect(there.filter((one) => !pointed.includes(one) && !streamed.includes(one))).toEqual([])
  })
  it('answers are as a general validator reads the document', async () => {
    const ajv = new Ajv({ strict: false, validateFormats: false })
    ajv.addSchema({ $id: 'api', components: document.components })
    const valid = (name: string, value: unknown): void => {
      const check = ajv.compile({ $ref: `api#/components/schemas/${name}` })
      check(value)
      expect({ name, errors: check.errors }).toEqual({ name, errors: null })
    }
    const job = await newJob()
    valid('Health', (await call().get(api('/health'))).body)
    valid('Job', (await call().get(api(`/jobs/${job}`))).body)
    valid('Run', (await upload(job, CSV)).body)
    valid(
      'TableInfo',
      (
        await call()
          .post(api(`/jobs/${job}/tables`))
          .send({ name: 'T', table: TABLE })
      ).body,
    )
    valid(
      'Field',
      (
        await call()
          .post(api(`/jobs/${job}/field`))
          .send({})
      ).body,
    )
    const bench = { maker: 'simulated', machine: 'godwit-712-open-lid' }
    valid(
      'Bench',
      (
        await call()
          .put(api(`/jobs/${job}/bench`))
          .send(bench)
      ).body,
    )
    valid('Set', (await call().get(api(`/jobs/${job}/sets`))).body[0])
    valid('RunPlan', (await call().get(api(`/jobs/${job}/plan`))).body)
    valid('Air', (await call().post(api('/air')).send({ temperatureC: 20, pressureKpa: 100, humidityPct: 40 })).body)
    valid('Problem', (await call().post(api('/jobs')).send({})).body)
    valid('Entry', (await call().get(api(`/jobs/${job}/entries`))).body[0])
  })
})
