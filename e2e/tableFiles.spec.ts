import { expect, test } from '@playwright/test'
import { startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(false)
})
test.afterAll(() => app.stop())

/** As a spreadsheet keeps it: small openings on top, decimal commas, no word of what it is. */
const SHEET = ';2000;4000;6000\n10;14,5;15,25;16\n40;22;23;24\n100;31;32,5;33\n'
const CELLS = [
  [14.5, 15.25, 16],
  [22, 23, 24],
  [31, 32.5, 33],
]

test('an ordinary CSV of a table is taken by one question, from the button and dropped on the desk', async ({
  page,
}) => {
  const api = `${app.address}/api/v1`
  const job = (await (await page.request.post(`${api}/jobs`, { data: { title: 'A sheet' } })).json()) as { id: string }
  await page.goto(`${app.address}/jobs/${job.id}/change`)
  await page
    .getByLabel('Table file')
    .setInputFiles({ name: 'sheet.csv', mimeType: 'text/csv', buffer: Buffer.from(SHEET) })
  const question = page.getByRole('dialog', { name: 'What kind of table is it?' })
  await expect(question.getByRole('button', { name: 'Read the table' })).toBeDisabled()
  await question.getByText('fuel, in any unit').click()
  await question.getByRole('button', { name: 'Read the table' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Add the table' }).click()
  await expect(page.getByRole('grid')).toBeVisible()
  const tables = async () =>
    (await (await page.request.get(`${api}/jobs/${job.id}/tables`)).json()) as {
      table: { kind: string; values: number[][] }
    }[]
  expect((await tables())[0]!.table).toMatchObject({ kind: 'fuel base', load: [10, 40, 100], values: CELLS })

  // Dropped on the desk, the same is asked; the same breakpoints make it the values of this table.
  const dropped = await page.evaluateHandle(
    (text) => {
      const all = new DataTransfer()
      all.items.add(new File([text], 'after.csv', { type: 'text/csv' }))
      return all
    },
    SHEET.replace('32,5', '32,75'),
  )
  for (const type of ['dragenter', 'dragover', 'drop'])
    await page.dispatchEvent('body', type, { dataTransfer: dropped })
  await question.getByText('fuel, in any unit').click()
  await question.getByRole('button', { name: 'Read the table' }).click()
  await expect(page.getByText('The values of the file are in the table')).toBeVisible()
  await expect(page.getByRole('gridcell').nth(1)).toContainText('32.7')
})
