import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs'
import { complaints, openMixture, startApp, type RunningApp } from './app'

const CURLEW = 'Curlew 437, short silencer'
let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(true)
})
test.afterAll(() => app.stop())

const toStage = async (page: Page, stage: number, heading: string): Promise<void> => {
  await page.keyboard.press(`Alt+${stage}`)
  await expect(page.getByRole('heading', { name: heading, exact: true })).toBeVisible()
}

async function textOfPdf(path: string): Promise<string> {
  const pdf = await getDocument({ data: new Uint8Array(readFileSync(path)), verbosity: 0 }).promise
  const pages = await Promise.all(
    Array.from({ length: pdf.numPages }, async (_, k) => (await pdf.getPage(k + 1)).getTextContent()),
  )
  return pages
    .map((page) => page.items.map((item) => ('str' in item ? item.str : '')).join(' '))
    .join(' ')
    .replace(/\s+/g, ' ')
}

interface Figure {
  value: number
  from: { method: 'GET' | 'POST'; path: string; body: object | null; at: string }
}
function figuresOf(value: unknown): Figure[] {
  if (typeof value !== 'object' || value === null) return []
  if ('from' in value && 'value' in value && 'unit' in value) return [value as Figure]
  return Object.values(value).flatMap(figuresOf)
}

test('every figure of the report of every demo job is the one of the stage it comes from', async ({ request }) => {
  const base = `${app.address}/api/v1`
  const jobs = (await (await request.get(`${base}/jobs`)).json()) as { id: string; title: string }[]
  let told = 0
  for (const job of jobs) {
    const answer = await request.get(`${base}/jobs/${job.id}/report.json`)
    expect({ job: job.title, status: answer.status() }).toEqual({ job: job.title, status: 200 })
    for (const { value, from } of figuresOf(await answer.json())) {
      const source =
        from.method === 'GET'
          ? await request.get(base + from.path)
          : await request.post(base + from.path, { data: from.body })
      const there = from.at
        .split('/')
        .slice(1)
        .reduce<unknown>((node, key) => (node as Record<string, unknown>)[key], await source.json())
      expect({ job: job.title, at: from.at, value: there }).toEqual({ job: job.title, at: from.at, value })
      told++
    }
  }
  expect(jobs.length).toBeGreaterThan(6)
  expect(told).toBeGreaterThan(20)
})

test('a complaint is dragged on the ruler, stands in Mixture and Baseline, and beyond the ceiling is refused', async ({
  page,
}) => {
  const said = complaints(page)
  await openMixture(page, app, CURLEW)
  await toStage(page, 1, 'Brief')
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Complaints').click()
  await page.getByRole('combobox', { name: 'Complaint', exact: true }).click({ force: true })
  await page.getByRole('option', { name: 'hunts' }).click()
  const pad = (await page.locator('[data-test="pin-pad"]').boundingBox())!
  await page.mouse.move(pad.x + 0.4 * pad.width, pad.y + 140)
  await page.mouse.down()
  // Up to wide open, which Baseline shows first.
  await page.mouse.move(pad.x + 0.55 * pad.width, pad.y + 1, { steps: 4 })
  await page.mouse.up()
  await expect(page.getByRole('spinbutton', { name: 'from rpm' })).toHaveValue(/^\d{4}$/)
  await page.getByRole('button', { name: 'Pin the complaint' }).click()
  await expect(page.getByRole('list', { name: 'Complaints' }).getByText('hunts')).toBeVisible()
  await toStage(page, 2, 'Rig')
  await page.keyboard.press('Alt+4')
  await expect(page.locator('.stack svg text', { hasText: 'hunts' })).toBeVisible()
  await page.keyboard.press('Alt+3')
  // Not the stack of Mixture, which goes.
  await expect(page.locator('.stack svg text', { hasText: 'Torque, N·m' })).toBeVisible()
  await expect(page.locator('.stack svg text', { hasText: 'hunts' })).toBeVisible()
  expect(said).toEqual([])

  await toStage(page, 1, 'Brief')
  await page.getByRole('radiogroup', { name: 'View' }).getByText('Complaints').click()
  await page.getByRole('spinbutton', { name: 'from rpm' }).fill('6000')
  await page.getByRole('spinbutton', { name: 'to rpm' }).fill('3000')
  await page.getByRole('button', { name: 'Pin the complaint' }).click()
  await expect(page.getByText(/toRpm must not be below fromRpm/)).toBeVisible()
})

test('the rig list is ticked by keys and stays ticked; own lines are added', async ({ page }) => {
  await openMixture(page, app, 'Avocet 312, snatchy in town')
  await toStage(page, 2, 'Rig')
  const lines = page.getByRole('listbox', { name: 'Rig list' }).getByRole('option')
  await expect(lines.first()).toContainText('Exhaust extraction')
  await lines.first().focus()
  await page.keyboard.press('Space')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(lines.and(page.locator('[aria-selected="true"]'))).toHaveCount(2)
  await page.getByRole('textbox', { name: 'A line of your own' }).fill('Tape the mirrors')
  await page.keyboard.press('Enter')
  await expect(lines.filter({ hasText: 'Tape the mirrors' })).toBeVisible()
  // A tick is shown at once: it is stored when the page says so.
  await expect(page.getByText('All saved')).toBeVisible()
  await app.killAndRestart()
  await page.reload()
  await expect(lines.and(page.locator('[aria-selected="true"]'))).toHaveCount(2)
  await expect(lines.filter({ hasText: 'Tape the mirrors' })).toBeVisible()
})

test('a note with a photo survives a kill', async ({ page }) => {
  await openMixture(page, app, CURLEW)
  const photo = join(app.folder, 'plug.png')
  const png = await page.evaluate(() => {
    const canvas = document.createElement('canvas')
    ;[canvas.width, canvas.height] = [2400, 1200]
    canvas.getContext('2d')!.fillRect(200, 200, 900, 700)
    return canvas.toDataURL('image/png')
  })
  writeFileSync(photo, Buffer.from(png.split(',')[1]!, 'base64'))
  await page.keyboard.press('n')
  await page.getByRole('textbox', { name: 'Note' }).fill('Plug after the long run: the colour of a biscuit')
  await page.getByLabel('Photo', { exact: true }).setInputFiles(photo)
  await expect(page.getByAltText('The photo as it will be kept')).toBeVisible()
  await page.getByRole('button', { name: 'Add the note' }).click()
  await expect(page.getByText('The note is in the logbook.')).toBeVisible()
  await app.killAndRestart()
  await page.reload()
  await expect(page.getByText('All saved')).toBeVisible()
  await toStage(page, 1, 'Brief')
  await page.getByRole('tab', { name: 'Logbook' }).click()
  await page.getByPlaceholder('Search the logbook').fill('biscuit')
  const kept = page.getByAltText(/Photo: Plug after/)
  await expect(kept).toBeVisible()
  // Made smaller in the browser: 1,600 px along the longest side.
  await expect.poll(() => kept.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(1600)
})

test('a job starts from the shelf, and is told whether somebody was in there', async ({ page }) => {
  await openMixture(page, app, 'Avocet 312, snatchy in town')
  await page.goto(`${app.address}/shelf`)
  await expect(page.getByText('Curlew 437, short silencer, as measured')).toBeVisible()
  await page.goto(app.address)
  await page.getByRole('link', { name: 'Curlew 437, the second with a short silencer', exact: true }).click()
  // A key hears nobody before the job is open.
  await expect(page.getByText('All saved')).toBeVisible()
  await toStage(page, 1, 'Brief')
  await page.getByRole('tab', { name: 'Shelf' }).click()
  await expect(page.getByText(/5 % more ethanol: about 2\.\d % of fuel, richer is needed here/)).toBeVisible()
  await page.getByRole('button', { name: 'Has somebody been in here?' }).click()
  // It began with that calibration: whether somebody was in there only a table as it came would tell.
  await expect(page.getByText(/a calibration somebody made: it is in here already/)).toBeVisible()
  await page.getByRole('button', { name: 'Start from this' }).click()
  await expect(page.getByText('Taken, cell by cell.')).toBeVisible()
})

test('an open ledger blocks handing over; then the report goes out, and nothing is written until it is reopened', async ({
  page,
}) => {
  await openMixture(page, app, CURLEW)
  await expect(page.getByRole('link', { name: 'put back 1' })).toBeVisible()
  await toStage(page, 8, 'Hand-over')
  await page.getByRole('button', { name: 'Hand the job over' }).click()
  await expect(page.getByText('Fan-on temperature is still 88 °C for the drum')).toBeVisible()
  for (const one of await page
    .locator('article')
    .filter({ has: page.getByText('left open, knowingly') })
    .all())
    await one.getByText('left open, knowingly').click()
  await page.getByRole('link', { name: 'put back 1' }).click()
  await page.getByRole('button', { name: 'Left so' }).click()
  await page.getByRole('textbox', { name: 'Who was told' }).fill('the rider')
  await page.getByRole('button', { name: 'Left so, told' }).click()
  await expect(page.getByRole('link', { name: /put back/ })).toHaveCount(0)
  await toStage(page, 8, 'Hand-over')
  const report = page.frameLocator('iframe[title="Report"]')
  await expect(report.getByText('left so (88 °C for the drum), told the rider')).toBeVisible()

  // What was done is typed, key by key, and stands in the report.
  const done = page.getByRole('textbox', { name: 'Done about hesitates' })
  await done.click()
  await page.keyboard.type('richer from 5,000 up')
  await expect(done).toHaveValue('richer from 5,000 up')
  await page.keyboard.press('Tab')
  await expect(report.getByText(/richer from 5,000 up/).first()).toBeVisible()
  await expect(done).toHaveValue('richer from 5,000 up')

  // Printed by the browser, and by the button: the same text.
  const link = page.getByRole('link', { name: 'PDF, A4' })
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()])
  const byButton = join(app.folder, 'button.pdf')
  await download.saveAs(byButton)
  const printing = await page.context().newPage()
  await printing.goto(`${app.address}${await page.locator('iframe[title="Report"]').getAttribute('src')}`)
  const byBrowser = join(app.folder, 'browser.pdf')
  await printing.pdf({ path: byBrowser, format: 'A4' })
  await printing.close()
  for (const path of [byButton, byBrowser]) {
    const text = await textOfPdf(path)
    expect(text).toContain('Curlew 437, short silencer')
    expect(text).toMatch(/Fan-on temperature: left so/)
    expect(text).toMatch(/\+\d+\.\d kW/)
  }

  await page.getByRole('button', { name: 'Hand the job over' }).click()
  await expect(page.getByText(/Handed over .*: read-only/)).toBeVisible()
  // No cell can be edited that could not be saved.
  await page.keyboard.press('Alt+5')
  const cell = page.getByRole('gridcell').first()
  const before = await cell.textContent()
  await cell.click()
  await page.keyboard.type('99')
  await page.keyboard.press('Enter')
  expect(await cell.textContent()).toBe(before)
  await expect(page.getByRole('button', { name: /^Save revision/ })).toBeDisabled()
  await page.getByRole('button', { name: 'Reopen' }).click()
  await expect(page.getByText(/Handed over .*: read-only/)).toHaveCount(0)
})
