import { expect, test, type Page } from '@playwright/test'
import { startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

const TABLE = {
  kind: 'fuel base',
  composition: 'multiply',
  loadAxis: 'throttle',
  rpm: [2000, 4000, 6000],
  load: [20, 60, 100],
  values: [
    [30, 31, 32],
    [40, 41, 42],
    [50, 51, 52],
  ],
}
async function setCell(page: Page, row: number, column: number, text: string): Promise<void> {
  await page
    .getByRole('gridcell')
    .nth(row * 3 + column)
    .click()
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}
async function save(page: Page, n: number): Promise<void> {
  await page.getByRole('button', { name: `Save revision ${n}` }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: `Save revision ${n}` })
    .click()
}

test('of two windows that save one table, the later puts its own cells on top of what came first', async ({
  page,
  context,
}) => {
  const job = (await (
    await page.request.post(`${app.address}/api/v1/jobs`, { data: { title: 'Two windows' } })
  ).json()) as {
    id: string
  }
  await page.request.post(`${app.address}/api/v1/jobs/${job.id}/tables`, { data: { name: 'Fuel', table: TABLE } })
  const address = `${app.address}/jobs/${job.id}/change`
  const other = await context.newPage()
  for (const one of [page, other]) {
    await one.goto(address)
    await expect(one.getByRole('grid')).toBeVisible()
  }
  // Highest load stands on top.
  await setCell(page, 0, 0, '50.5')
  await setCell(other, 2, 2, '32.3')
  await save(other, 2)
  await expect(other.getByText('Revision 2 is saved.')).toBeVisible()

  await page.bringToFront()
  // Asked what speaks against it, the server knows of the other.
  await page.getByRole('button', { name: 'Save revision 2' }).click()
  await expect(
    page.getByText(/Revision 2 was saved elsewhere meanwhile: 1 cell\. Yours lie on top of it/),
  ).toBeVisible()
  await save(page, 3)
  await expect(page.getByText('Revision 3 is saved.')).toBeVisible()
  const [table] = (await (await page.request.get(`${app.address}/api/v1/jobs/${job.id}/tables`)).json()) as {
    table: { values: number[][] }
    revisions: object[]
  }[]
  expect(table!.revisions).toHaveLength(3)
  expect(table!.table.values).toEqual([
    [30, 31, 32.3],
    [40, 41, 42],
    [50.5, 51, 52],
  ])
})
