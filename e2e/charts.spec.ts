import { expect, test, type Page } from '@playwright/test'
import { startApp, type RunningApp } from './app'

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(true)
})
test.afterAll(() => app.stop())

const SIZES = [
  [390, 844],
  [1024, 768],
  [1280, 800],
] as const
/** Demo jobs, with the stages that draw by measuring the room they have. */
const VIEWS: [job: string, stages: string[]][] = [
  ['Curlew 437, short silencer', ['brief', 'baseline', 'mixture', 'change/ways']],
  ['Curlew 437, spark held back', ['spark']],
  ['Plover 312, slide carburettor', ['change']],
  ['Dunnock 498, takes hold like a switch', ['response']],
  ['Avocet 312, snatchy in town', ['response']],
]
/** Frames looked at: a chart that measures what it fills grew by some px in every one. */
const FRAMES = 60

/** What the charts grew or shrank over a second of frames, px, and the height of the tallest. */
async function heights(page: Page): Promise<{ moved: number; tallest: number }> {
  return page.evaluate(async (frames) => {
    const all = [...document.querySelectorAll('main svg, main canvas')]
    const now = (): number[] => all.map((one) => one.getBoundingClientRect().height)
    const before = now()
    for (let k = 0; k < frames; k++) await new Promise((next) => requestAnimationFrame(next))
    const after = now()
    return { moved: Math.max(...after.map((one, k) => Math.abs(one - before[k]!))), tallest: Math.max(...after) }
  }, FRAMES)
}

for (const [width, height] of SIZES)
  test(`at ${width} x ${height} every chart keeps its height`, async ({ page }) => {
    await page.setViewportSize({ width, height })
    const jobs = (await (await page.request.get(`${app.address}/api/v1/jobs`)).json()) as {
      id: string
      title: string
    }[]
    for (const [title, stages] of VIEWS)
      for (const stage of stages) {
        const { id } = jobs.find((one) => one.title === title)!
        await page.goto(`${app.address}/jobs/${id}/${stage}`)
        await expect(page.locator('main svg').first()).toBeVisible()
        const where = `${title}, ${stage}`
        // Words that arrive with the answers may move it once; one that follows its own content never rests.
        await expect.poll(async () => (await heights(page)).moved, { message: where, timeout: 120_000 }).toBe(0)
        expect((await heights(page)).tallest, where).toBeLessThan(2 * height)
      }
  })

test('on a phone a job is opened, large type is whole, and the stop is on the screen', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(app.address)
  const title = page.getByRole('link', { name: 'Curlew 437, stock machines', exact: true })
  await title.click()
  await expect(page).toHaveURL(/\/jobs\//)
  await page.goto(page.url().replace(/(jobs\/[^/]+).*/, '$1/bench'))
  await page.getByRole('button', { name: 'Connect the simulated rig' }).click()
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeInViewport()
  await page.getByRole('button', { name: 'Large type (b)' }).click()
  await expect(page.getByRole('button', { name: 'Stop (space)' })).toBeInViewport()
  const figures = page.getByLabel('Bench in large type').locator('dd')
  await expect(figures.filter({ hasText: /^\d\.\d{3}$/ })).toBeVisible()
  const cut = await figures.evaluateAll((all) =>
    all.filter((one) => one.parentElement!.scrollWidth > one.parentElement!.clientWidth).map((one) => one.textContent),
  )
  expect(cut).toEqual([])
})
