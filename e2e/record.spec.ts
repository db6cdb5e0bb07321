import { expect, test, type APIRequestContext } from '@playwright/test'
import { shedCsv, shedRides, SHED } from '../core/trials/shedRides'
import { complaints, startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

const GRID = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 3500, 5000, 6500, 8000],
  load: [5, 15, 30, 60, 100],
}

/** A job that was corrected from runs, then leaned by feel, with runs after each. */
async function disputed(request: APIRequestContext): Promise<string> {
  const post = async (path: string, data: object): Promise<{ id: string }> => {
    const answer = await request.post(`${app.address}/api/v1${path}`, { data })
    expect(answer.ok(), await answer.text()).toBe(true)
    return (await answer.json()) as { id: string }
  }
  const { id: job } = await post('/jobs', {
    title: 'Dunlin 208, disputed',
    machine: { name: 'Dunlin 208', cylinders: 1 },
    rider: 'The owner of the Dunlin',
  })
  const values = GRID.load.map(() => GRID.rpm.map(() => 100))
  const { id: table } = await post(`/jobs/${job}/tables`, { name: 'Fuel', table: { ...GRID, values } })
  const ride = async (name: string, off: number): Promise<string[]> => {
    const { id: set } = await post(`/jobs/${job}/sets`, { name })
    const shed = { ...SHED, seed: 7 + name.length, need: () => off }
    const ids: string[] = []
    for (const [k, run] of shedRides(shed, [15, 30, 60, 100], 3).entries()) {
      const file = { name: `${name} ${k + 1}.csv`, mimeType: 'text/csv', buffer: Buffer.from(shedCsv(run)) }
      const sent = await request.post(`${app.address}/api/v1/jobs/${job}/runs`, {
        multipart: { set, name: `${name} ${k + 1}`, file },
      })
      expect(sent.ok(), await sent.text()).toBe(true)
      ids.push(((await sent.json()) as { id: string }).id)
    }
    return ids
  }
  const first = await ride('Before', 0.05)
  const measured = values.map((row) => row.map((value) => value * 1.05))
  const at = `/jobs/${job}/tables/${table}/revisions`
  await post(at, { values: measured, reason: 'Corrected from 12 runs', parent: 1, runs: first })
  await ride('Corrected', 0)
  const felt = measured.map((row, r) => row.map((value, k) => (r === 2 && k > 0 && k < 4 ? value * 0.93 : value)))
  await post(at, {
    values: felt,
    reason: 'leaner in the middle, by feel',
    parent: 2,
    override: 'the rider wants it so',
  })
  await ride('By feel', 0.03)
  return job
}

test('a dispute is settled by the report: which revision, which cells, who asked for it, and which runs', async ({
  page,
}) => {
  const seen = complaints(page)
  const job = await disputed(page.request)
  await page.goto(`${app.address}/jobs/${job}/hand-over`)
  const report = page.frameLocator('iframe[title="Report"]')
  const line = (what: string) => report.getByRole('row').filter({ has: page.locator('td', { hasText: what }) })
  const felt = line('Fuel, revision 3')
  await expect(felt).toContainText('by hand; asked about, and done because: the rider wants it so.')
  await expect(felt).toContainText('leaner in the middle, by feel')
  await expect(felt).toContainText('cruise, 3 cells: −7.0 % on average, at most −7.0 %')
  const measured = line('Fuel, revision 2')
  await expect(measured).toContainText('measured, from 12 runs (Before 1, Before 2')
  await expect(measured).toContainText('full throttle, 5 cells: +5.0 % on average')
  await expect(report.getByRole('row').filter({ hasText: 'By feel (By feel 1, By feel 2' })).toContainText(
    'made on revision 3 of Fuel',
  )
  await expect(report.getByText('The owner of the Dunlin')).toBeVisible()
  const [pdf] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'PDF, A4' }).click()])
  expect(pdf.suggestedFilename()).toBe('Dunlin 208, disputed.pdf')
  expect(seen).toEqual([])
})
