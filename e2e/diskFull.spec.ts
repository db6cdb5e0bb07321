import { expect, test } from '@playwright/test'
import { canMount, SmallDisk } from '../server/src/smallDisk'
import { newJob } from './app'

test('a disk that is full is told, nothing is lost, and it goes on when there is room', async ({ page }) => {
  test.skip(!canMount, 'no file system of its own can be mounted here')
  const disk = await SmallDisk.open()
  try {
    await newJob(page, { address: disk.address }, 'Avocet 312, on a small disk')
    await page.goto(disk.address)
    await expect(page.getByRole('alert').filter({ hasText: 'Safekeeping' })).toBeVisible()
    await disk.fill(8)
    await page.getByRole('button', { name: 'New job' }).click()
    const title = page.getByRole('textbox', { name: 'Title' })
    await title.fill('One more')
    for (let k = 0; k < 30; k++) {
      // A page or two of the store may still have room for a line.
      const answer = await page.request.post(`${disk.address}/api/v1/jobs`, {
        data: { title: `Filler ${'x'.repeat(150)}` },
      })
      if (answer.status() === 507) break
    }
    await page.getByRole('button', { name: 'Make the job' }).click()
    await expect(page.getByText(/The disk is full: nothing was stored/).first()).toBeVisible()
    await expect(title).toHaveValue('One more')
    await disk.makeRoom()
    await page.getByRole('button', { name: 'Make the job' }).click()
    await expect(page).toHaveURL(/\/brief$/)
    await page.goto(disk.address)
    await expect(page.getByText('Avocet 312, on a small disk')).toBeVisible()
    await expect(page.getByText('One more')).toBeVisible()
  } finally {
    await disk.close()
  }
})
