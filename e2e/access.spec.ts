import { expect, test, type Page } from '@playwright/test'
import axe from 'axe-core'
import { complaints, openMixture, startApp, type RunningApp } from './app'
import { logFiles } from './log'

// Measuring the contrast of a few hundred cells takes its time.
test.describe.configure({ timeout: 600_000 })

let app: RunningApp
test.beforeAll(async () => {
  app = await startApp(true)
})
test.afterAll(() => app.stop())

/** The spark stage of a demo job, with its points fitted. */
async function openSpark(page: Page, title: string): Promise<void> {
  await page.goto(app.address)
  await page.getByRole('link', { name: title, exact: true }).click()
  await expect(page.getByText('All saved')).toBeVisible()
  await page.keyboard.press('Alt+6')
  await expect(page.getByRole('option').first()).toBeVisible()
}

/** Looks at the whole page, or at a part of it where the rest was looked at just before. */
type Check = (view: string, within?: string) => Promise<void>
const DRAWER = 'aside'
/** Ways through the application, each a test of its own: measuring the contrast of a few hundred cells takes its time. */
const WALKS: [name: string, walk: (page: Page, check: Check) => Promise<void>][] = []
WALKS.push([
  'jobs, mixture and baseline',
  async (page, check) => {
    await page.goto(app.address)
    await expect(page.getByRole('heading', { name: 'Jobs' })).toBeVisible()
    await check('jobs')
    await page.getByRole('button', { name: 'New job' }).click()
    await check('new job')
    await page.keyboard.press('Escape')
    await openMixture(page, app, 'Curlew 437, short silencer')
    await page.locator('.stack').focus()
    await page.keyboard.press('ArrowDown')
    await check('mixture')
    await page.getByRole('tab', { name: /Runs/ }).click()
    await check('runs of the field', DRAWER)
    await page.getByRole('tab', { name: 'Target and filters' }).click()
    await check('target and filters', DRAWER)
    await page.keyboard.press('Alt+1')
    await expect(page.getByRole('heading', { name: 'Brief', exact: true })).toBeVisible()
    await check('brief')
    for (const [view, tab] of [
      ['Complaints', 'Shelf'],
      ['What was changed', 'Logbook'],
      ['Limits and fuel', 'Verdict'],
    ] as const) {
      await page.getByRole('radiogroup', { name: 'View' }).getByText(view).click()
      await page.getByRole('tab', { name: tab }).click()
      await check(`brief, ${view}, ${tab}`)
    }
    for (const [key, heading] of [
      ['2', 'Rig'],
      ['8', 'Hand-over'],
    ] as const) {
      await page.keyboard.press(`Alt+${key}`)
      await expect(page.getByRole('heading', { name: heading, exact: true })).toBeVisible()
      await check(heading)
    }
    await page.keyboard.press('n')
    await expect(page.getByRole('textbox', { name: 'Note' })).toBeVisible()
    await check('note')
    await page.keyboard.press('Escape')
    await page.goto(`${app.address}/shelf`)
    await expect(page.getByText('as measured')).toBeVisible()
    await check('shelf')
    await openMixture(page, app, 'Curlew 437, short silencer')
    await page.keyboard.press('Alt+3')
    await expect(page.locator('.list .run').first()).toBeVisible()
    await page.locator('.list .run').first().click()
    await check('runs')
    for (const tab of ['Figures', 'Set and air']) {
      await page.getByRole('tab', { name: tab }).click()
      await check(tab, DRAWER)
    }
    for (const [view, there] of [
      ['Log', 'Shaded: does not count'],
      ['Compare', 'largest gain begins at'],
      ['Plan', 'In the fewest runs'],
      ['Hand readings', 'With a gauge only'],
      ['Runs', 'mean'],
    ] as const) {
      await page.getByText(view, { exact: true }).first().click()
      await expect(page.getByText(there).first()).toBeVisible()
      await check(view)
    }
  },
])
WALKS.push([
  'bench and change',
  async (page, check) => {
    await openMixture(page, app, 'Curlew 437, short silencer')
    await page.getByRole('link', { name: 'Bench', exact: true }).click()
    await expect(page.getByRole('heading', { name: 'Bench' })).toBeVisible()
    await check('bench')
    await page.getByRole('button', { name: 'Connect the simulated rig' }).click()
    await page.getByRole('button', { name: 'Take the wheel' }).waitFor()
    for (const tab of ['Drive', 'Runs', 'Loop', 'Tables', 'Sensors']) {
      await page.getByRole('tab', { name: tab, exact: true }).click()
      await check(`bench, ${tab}`, tab === 'Drive' ? undefined : DRAWER)
    }
    await page.keyboard.press('b')
    await check('bench in large type')
    await page.keyboard.press('b')
    await page.getByRole('button', { name: 'Disconnect' }).click()
    await page.keyboard.press('Alt+3')
    await page.getByLabel('Logs to add').setInputFiles(logFiles('t,revs,opening,fuel gauge').slice(0, 1))
    await expect(page.getByText('Still needed')).toBeVisible()
    await check('import')
    await page.getByRole('button', { name: 'Cancel' }).click()
    await page.keyboard.press('Alt+5')
    await expect(page.getByRole('button', { name: /Take all/ })).toBeEnabled()
    await check('change')
    for (const tab of ['Limits', /Revisions/]) {
      await page.getByRole('tab', { name: tab }).click()
      await check(`change, ${String(tab)}`, DRAWER)
    }
    await page.getByText('Ways', { exact: true }).click()
    await expect(page.getByText(/Weighed with lean/)).toBeVisible({ timeout: 120_000 })
    await check('change, ways')
    for (const way of ['Bands', 'Two strips', 'Fuel pressure', 'Injectors']) {
      await page.getByRole('button', { name: way }).click()
      await check(`change, ways, ${way}`, DRAWER)
    }
  },
])
WALKS.push([
  'spark',
  async (page, check) => {
    await openMixture(page, app, 'Curlew 437, short silencer')
    await page.keyboard.press('Alt+6')
    await expect(page.getByRole('heading', { name: 'Spark', exact: true })).toBeVisible()
    await check('spark, nothing stepped')
    await openSpark(page, 'Curlew 437, spark held back')
    await check('spark, fit')
    for (const [view, there] of [
      ['Plan', 'What stops it'],
      ['Table', /Take all \d+ changes/],
      ['Mixture sweep', 'Torque is flat about its best'],
    ] as const) {
      await page.getByRole('radiogroup', { name: 'View' }).getByText(view, { exact: true }).click()
      await expect(page.getByText(there).first()).toBeVisible()
      await check(`spark, ${view}`)
    }
    await openSpark(page, 'Dunlin 208, plate and springs')
    await page.getByRole('tab', { name: 'One knob' }).click()
    await expect(page.getByText('gain, as used')).toBeVisible()
    await check('spark, one knob')
    await page.getByRole('radiogroup', { name: 'View' }).getByText('Settings', { exact: true }).click()
    await expect(page.getByText(/torque with 15/)).toBeVisible()
    await check('spark, settings')
    await page.getByRole('tab', { name: 'Settings of runs' }).click()
    await check('spark, settings of runs', DRAWER)
  },
])
WALKS.push([
  'response',
  async (page, check) => {
    await openMixture(page, app, 'Dunnock 498, takes hold like a switch')
    await page.keyboard.press('Alt+7')
    await expect(page.getByText('Lean peak')).toBeVisible({ timeout: 120_000 })
    await check('response, roll-ons')
    for (const tab of ['Plan', 'Snatch', /Feel/]) {
      await page.getByRole('tab', { name: tab }).click()
      await check(`response, ${String(tab)}`, DRAWER)
    }
    for (const [view, there] of [
      ['Loop exit, overrun', 'Leaving 10 to 20 %'],
      ['Grip to plate', 'What stands out'],
      ['Tables', 'Take all'],
    ] as const) {
      await page.getByRole('radiogroup', { name: 'View' }).getByText(view, { exact: true }).click()
      await expect(page.getByText(there).first()).toBeVisible({ timeout: 120_000 })
      await check(`response, ${view}`)
      if (view !== 'Grip to plate') continue
      await page.getByText('Modes side by side').click()
      await expect(page.getByRole('img', { name: /^Mode \d: plate over grip/ })).toHaveCount(2)
      await check('response, modes side by side', '.sides')
    }
    await page.getByRole('combobox', { name: 'Shape of the plate table' }).click({ force: true })
    await page.getByRole('option', { name: 'own curve' }).click()
    await page.getByRole('tab', { name: 'Limits' }).click()
    await check('response, own curve', DRAWER)
  },
])
WALKS.push([
  'trainer and carburettor',
  async (page, check) => {
    await page.goto(`${app.address}/trainer`)
    await expect(page.getByRole('heading', { name: 'Trainer' })).toBeVisible()
    await check('trainer')
    await openMixture(page, app, 'Plover 312, slide carburettor')
    await page.keyboard.press('Alt+5')
    await expect(page.getByText(/combinations tried/)).toBeVisible()
    for (const tab of ['Parts', 'Readings', 'Box', 'Checks', 'Idle', 'Air', 'Log']) {
      await page.getByRole('tab', { name: tab, exact: true }).click()
      await check(`carburettor, ${tab}`, tab === 'Parts' ? undefined : DRAWER)
    }
  },
])

type Theme = 'light' | 'dark'
const EVERYTHING: axe.RunOnly = { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] }
const COLOURS: axe.RunOnly = { type: 'rule', values: ['color-contrast'] }

/** Changes the theme as another window of the same browser would, dialogs open or not. */
async function show(page: Page, theme: Theme): Promise<void> {
  await page.evaluate((value) => {
    localStorage.setItem('yuzumix.theme', value)
    const news = { key: 'yuzumix.theme', newValue: value, storageArea: localStorage }
    window.dispatchEvent(new StorageEvent('storage', news))
  }, theme)
  await expect(page.locator('html')).toHaveClass(theme === 'dark' ? /dark/ : /^(?!.*dark)/)
}
/** Colours are measured once transitions are over. */
async function settled(page: Page): Promise<void> {
  await page.waitForFunction(
    () =>
      new Promise((resolve) => {
        const isMoving = (one: Animation): boolean =>
          one.playState === 'running' && Number.isFinite(one.effect?.getComputedTiming().endTime)
        // A transition may begin some frames late, where much is drawn anew: it must be quiet for a while.
        const look = (frames: number): void =>
          void requestAnimationFrame(() =>
            document.getAnimations().some(isMoving) ? resolve(false) : frames > 0 ? look(frames - 1) : resolve(true),
          )
        look(6)
      }),
  )
}
/** What axe finds in one part of the page. Its source is put into a page once, for reading it takes longer than many a check. */
async function findNothing(page: Page, view: string, within: string, runOnly: axe.RunOnly): Promise<void> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source)
  const violations = await page.evaluate(
    async ([part, rules]) => {
      const { axe: here } = window as unknown as { axe: typeof axe }
      // Only what is wrong is worked out in full: naming every node that is in order takes most of the time.
      return (await here.run(part, { runOnly: rules, resultTypes: ['violations'] })).violations
    },
    [within, runOnly] as const,
  )
  expect({
    view,
    found: violations.map(({ id, nodes }) => [
      id,
      nodes.slice(0, 2).map((node) => `${node.html.slice(0, 140)} ${node.any[0]?.message.slice(0, 160)}`),
    ]),
  }).toEqual({ view, found: [] })
}

for (const [name, walk] of WALKS)
  test(`axe finds nothing, light and dark: ${name}`, async ({ page }) => {
    const said = complaints(page)
    let [theme, other]: [Theme, Theme] = ['light', 'dark']
    await page.addInitScript(
      () => localStorage.getItem('yuzumix.theme') ?? localStorage.setItem('yuzumix.theme', 'light'),
    )
    await walk(page, async (view, within = 'html') => {
      await settled(page)
      await findNothing(page, `${view}, ${theme}`, within, EVERYTHING)
      // The other theme differs in its colours alone, and stays until the next look.
      await show(page, other)
      await settled(page)
      await findNothing(page, `${view}, ${other}`, within, COLOURS)
      ;[theme, other] = [other, theme]
    })
    expect(said).toEqual([])
  })

test('no view scrolls sideways, and no bar runs into the drawer, at 1280 x 800 and 1024 x 768', async ({ page }) => {
  await openMixture(page, app, 'Curlew 437, short silencer')
  for (const key of ['1', '2', '3', '4', '5', '6', '7', '8']) {
    await page.keyboard.press(`Alt+${key}`)
    await page.waitForTimeout(300)
    for (const [width, height] of [
      [1024, 768],
      [1280, 800],
    ] as const) {
      await page.setViewportSize({ width, height })
      const beyond = await page.evaluate(() => {
        const end = document.querySelector('aside')?.getBoundingClientRect().left ?? window.innerWidth
        return [...document.querySelectorAll('section .bar *')]
          .filter((one) => one.getBoundingClientRect().right > end)
          .map((one) => one.textContent)
      })
      expect({ key, width, beyond }).toEqual({ key, width, beyond: [] })
      expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0)
    }
  }
})

test('an empty store invites the first job, and what does not exist says so', async ({ page }) => {
  const empty = await startApp(false)
  try {
    await page.goto(empty.address)
    await expect(page.getByRole('heading', { name: 'No jobs yet' })).toBeVisible()
    await page.goto(`${empty.address}/jobs/none/mixture`)
    await expect(page.getByRole('heading', { name: 'There is no such job' })).toBeVisible()
  } finally {
    empty.stop()
  }
})
