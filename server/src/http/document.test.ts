import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import Ajv from 'ajv/dist/2020'
import { parse } from 'yaml'
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
    components: { schemas: object }
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
    walk((server.app as unknown as { router: { stack: Layer[] } }).router.stack)
    const documented = Object.entries(document.paths).flatMap(([path, methods]) =>
      Object.keys(methods)
        .filter((key) => key !== 'parameters')
        .map((method) => `${method} ${path}`),
    )
    expect([...routes].sort()).toEqual(documented.sort())
  })

  it('answers are as the document says', async () => {
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
    expect((await call().get(api('/openapi.json'))).body).toEqual(document)
  })
})
