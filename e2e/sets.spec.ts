import { mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
import { apiOf, complaints, newJob, startApp, type RunningApp } from './app'
import { knownPull, pullAsCsv, recordPull } from '../core/trials/knownPull'

let app: RunningApp
let folder: string
test.beforeAll(async () => {
  app = await startApp(false)
  folder = mkdtempSync(join(tmpdir(), 'yuzumix-logs-'))
})
test.afterAll(() => {
  app.stop()
  rmSync(folder, { recursive: true, force: true })
})

/** A log on disk, written on that day. */
function logOf(day: number, number: number): string {
  const path = join(folder, `Day ${day} pull ${number}.csv`)
  writeFileSync(path, pullAsCsv(recordPull(knownPull({ seed: 10 * day + number }))))
  const at = new Date(2026, 4, 3 + day, 15, number)
  utimesSync(path, at, at)
  return path
}

test('runs of two days go to two sets at import, and several are changed at once', async ({ page }) => {
  const seen = complaints(page)
  await newJob(page, app, 'Two afternoons')
  await page.keyboard.press('Alt+3')
  await expect(page.getByRole('radiogroup', { name: 'View' })).toBeVisible()
  const files = [1, 2].flatMap((day) => [1, 2, 3].map((number) => logOf(day, number)))
  await page.getByLabel('Logs to add').setInputFiles(files)
  const dialog = page.getByRole('dialog', { name: 'Add runs' })
  await expect(dialog.getByText('3 files of 4 May 2026 go to')).toBeVisible()
  await expect(dialog.getByText('3 files of 5 May 2026 go to')).toBeVisible()
  await expect(dialog.getByRole('region', { name: 'Sets that they go to' }).getByText('A new set')).toHaveCount(2)
  await dialog.getByRole('button', { name: 'Add 6 runs' }).click()
  await expect(dialog).toBeHidden()
  type Run = { name: string; set: string; leftOut: { reason: string } | null }
  const runs = async (): Promise<Run[]> => (await page.request.get(`${apiOf(page)}/runs`)).json() as Promise<Run[]>
  const bySet = async (): Promise<string[]> => {
    const sets = (await (await page.request.get(`${apiOf(page)}/sets`)).json()) as { id: string; name: string }[]
    const all = await runs()
    return sets.map((set) => `${set.name}: ${all.filter((run) => run.set === set.id).length}`)
  }
  expect(await bySet()).toEqual(['Set 1, 4 May 2026: 3', 'Set 2, 5 May 2026: 3'])

  // The second day is looked at: all three are renamed, and the two that were chosen by a span are moved.
  await page.getByText('Choose all', { exact: true }).click()
  await page.getByRole('textbox', { name: 'Name of all of them' }).fill('Long baffle, #')
  await page.getByRole('button', { name: 'Rename', exact: true }).click()
  await expect(page.getByText('3 runs changed.')).toBeVisible()
  expect((await runs()).slice(3).map((run) => run.name)).toEqual(['Long baffle, 1', 'Long baffle, 2', 'Long baffle, 3'])
  await page.getByLabel('Choose Long baffle, 1').click()
  await page.getByLabel('Choose Long baffle, 2').click({ modifiers: ['Shift'] })
  await page.getByText('choose a set').click()
  await page.getByRole('option', { name: 'Set 1, 4 May 2026' }).click()
  await expect.poll(bySet).toEqual(['Set 1, 4 May 2026: 5', 'Set 2, 5 May 2026: 1'])
  await page.getByText('2 runs changed.').getByRole('button', { name: 'Undo' }).click()
  await expect.poll(bySet).toEqual(['Set 1, 4 May 2026: 3', 'Set 2, 5 May 2026: 3'])

  // To a set of their own, and back.
  await page.getByText('Choose all', { exact: true }).click()
  await page.getByText('choose a set').click()
  await page.getByRole('option', { name: 'A new set' }).filter({ visible: true }).click()
  await expect.poll(bySet).toEqual(['Set 1, 4 May 2026: 3', 'Set 2, 5 May 2026: 0', 'Set 3: 3'])
  await page.getByText('3 runs changed.').last().getByRole('button', { name: 'Undo' }).click()
  await expect.poll(bySet).toEqual(['Set 1, 4 May 2026: 3', 'Set 2, 5 May 2026: 3', 'Set 3: 0'])

  await page.getByText('Choose all', { exact: true }).click()
  await page.getByRole('textbox', { name: 'Reason for leaving them out' }).fill('Rain came')
  await page.getByRole('button', { name: 'Leave out', exact: true }).click()
  await expect.poll(async () => (await runs()).filter((run) => run.leftOut?.reason === 'Rain came').length).toBe(3)
  expect(seen).toEqual([])
})
