import { api, testServer, type TestServer } from '../testServer'

let server: TestServer
beforeAll(async () => {
  server = await testServer()
})
afterAll(() => server.stop())
const call = () => server.call()

it('the air of a weather, by every standard', async () => {
  const { body } = await call()
    .post(api('/air'))
    .send({ temperatureC: 30, pressureKpa: 98.2, humidityPct: 45 })
    .expect(200)
  expect(body.corrections.find((one: { id: string }) => one.id === 'iso-1585').factor).toBeCloseTo(1.04449, 4)
  expect(body.densityAltitudeM).toBeGreaterThan(500)
  await call().post(api('/air')).send({ temperatureC: 30, pressureKpa: 12, humidityPct: 45 }).expect(400)
})
