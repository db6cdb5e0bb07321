import { expect, test } from '@playwright/test'
import { lineStandIn } from '../server/src/rigs/lineStandIn'
import { apiOf, complaints, newJob, startApp, type RunningApp } from './app'

let app: RunningApp
let sender: Awaited<ReturnType<typeof lineStandIn>>
test.beforeAll(async () => {
  app = await startApp(false)
  sender = await lineStandIn({ rate: 50 })
})
test.afterAll(async () => {
  app.stop()
  await sender.stop()
})

test('lines from beside the machine are read, a column is told what it is, and a recording becomes a run', async ({
  page,
}) => {
  const said = complaints(page)
  await newJob(page, app, 'Curlew 437, live')
  await page.getByRole('link', { name: 'Bench' }).click()
  await page.getByText('Live lines, read only').click()
  const source = page.getByRole('textbox', { name: 'Source of the lines' })
  await source.fill(`127.0.0.1:${sender.port}`)
  await source.press('Enter')
  await expect(page.getByText(/Read-only: nothing is set/)).toBeVisible()
  // Its columns are told as a log's are, and may be told otherwise.
  const column = page.getByRole('combobox', { name: 'Channel of Box temperature' })
  await expect(column).toBeVisible()
  await column.click()
  await page.getByRole('option', { name: 'Intake air', exact: false }).first().click()
  await page.getByRole('button', { name: 'Take the columns so, and remember it' }).click()
  await expect(page.getByRole('button', { name: 'Take the columns so, and remember it' })).toBeHidden()
  await page.getByRole('button', { name: 'Record' }).click()
  const stop = page.getByRole('button', { name: 'Stop and keep' })
  await expect(stop).toBeVisible()
  await expect(async () => {
    const rpm = await page.locator('dd.figures').first().textContent()
    expect(Number(rpm!.replace(/\D/g, ''))).toBeGreaterThan(7000)
  }).toPass({ timeout: 120_000 })
  await stop.click()
  await expect(page.getByText(/"Live" is in the job/)).toBeVisible()
  const [run] = (await (await page.request.get(`${apiOf(page)}/runs`)).json()) as { channels: { channel: string }[] }[]
  expect(run!.channels.map((one) => one.channel)).toEqual(expect.arrayContaining(['rpm', 'lambda1', 'speed', 'intake']))
  expect(said).toEqual([])
})
