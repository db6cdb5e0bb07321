import { expect, type Page } from '@playwright/test'
import { closeRigList, giveReason, type RunningApp } from './app'

/** Makes a job with a simulated rig on it. */
export async function connect(page: Page, app: RunningApp, title: string, coolant: string): Promise<void> {
  await page.goto(app.address)
  await page.getByRole('button', { name: 'New job' }).first().click()
  await page.getByRole('textbox', { name: 'Title' }).fill(title)
  await page.getByRole('button', { name: 'Make the job' }).click()
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  await expect(page).toHaveURL(/\/bench$/)
  await closeRigList(page)
  await page.getByRole('spinbutton', { name: 'Coolant at the start in °C' }).fill(coolant)
  await page.keyboard.press('Enter')
  await page.getByText('four times as fast').click()
  await page.getByRole('button', { name: 'Connect the simulated rig' }).click()
  await expect(page.getByText('Simulated rig: Curlew 437, short silencer', { exact: true })).toBeVisible()
}
/** Both ends of the throttle sensor, and free air. */
export async function calibrate(page: Page): Promise<void> {
  await page.getByRole('tab', { name: 'Sensors' }).click()
  await page.getByRole('button', { name: 'This is shut' }).click()
  await expect(page.getByText('0.50 V').last()).toBeVisible()
  await page.getByRole('button', { name: 'Hold the plate wide open' }).click()
  await expect(page.getByText('now 4.38 V')).toBeVisible()
  await page.getByRole('button', { name: 'This is wide open' }).click()
  await page.getByRole('button', { name: 'Let the plate shut' }).click()
  await page.getByRole('button', { name: 'This is free air' }).click()
}

/** Lets a machine run that is known to be lean at the top. */
export async function letRunLean(page: Page): Promise<void> {
  const lean = page.getByRole('spinbutton', { name: /^Leaner than target times/ })
  await lean.fill('1.15')
  await lean.press('Enter')
  await expect(page.getByText(/What no longer stops a run has to be stopped by hand/)).toBeVisible()
  await giveReason(page, 'Known to be 11 % lean at the top; watched')
}

/** Runs one sweep at a stop, and waits until it is in the job. */
export async function runSweep(page: Page, stop: number): Promise<void> {
  await page.getByRole('tab', { name: 'Runs' }).click()
  await page.getByRole('radiogroup', { name: 'Kind of run' }).getByText('sweep', { exact: true }).click()
  for (const [name, value] of [
    ['Stop of the run in %', String(stop)],
    ['From of the run in rpm', '3500'],
    ['To of the run in rpm', '8500'],
  ] as const) {
    await page.getByRole('spinbutton', { name }).fill(value)
    await page.getByRole('spinbutton', { name }).press('Enter')
  }
  await page.getByRole('button', { name: 'Run this sweep' }).click()
  await expect(page.getByText(`"Sweep at ${stop} %" is in the job`)).toBeVisible({ timeout: 60_000 })
}
