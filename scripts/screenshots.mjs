// Refreshes docs/screenshots from the demo data: a fresh demo store on a port of its own, one picture of each main view.
import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium as browserPath, CHROMIUM_ARGS } from './chromium.mjs'
import { build, install, root } from './ready.mjs'

install()
build()
const { chromium } = await import('@playwright/test')
const folder = mkdtempSync(join(tmpdir(), 'yuzumix-shots-'))
const env = { ...process.env, YUZUMIX_DATA: folder, PORT: '5395' }
spawnSync(process.execPath, [join(root, 'server/dist/demo.js')], { env, stdio: 'inherit' })
const server = spawn(process.execPath, [join(root, 'server/dist/main.js')], {
  env,
  stdio: ['ignore', 'pipe', 'inherit'],
})
await new Promise((resolve) => server.stdout.on('data', resolve))

const browser = await chromium.launch({
  executablePath: browserPath(),
  args: CHROMIUM_ARGS,
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const shot = async (name) => {
  await page.waitForTimeout(500)
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) })
}
const tab = (name) => page.getByRole('tab', { name }).click()
try {
  await page.goto('http://127.0.0.1:5395/')
  await shot('jobs')
  await page.getByRole('link', { name: 'Curlew 437, short silencer', exact: true }).click()
  await page.getByText(/solid/).first().waitFor()
  await page.locator('.stack').focus()
  for (const key of ['ArrowUp', ...Array(3).fill('ArrowDown'), ...Array(10).fill('ArrowRight')])
    await page.keyboard.press(key)
  await shot('mixture')
  await page.getByRole('button', { name: 'Dark' }).click()
  await tab('Cell')
  await shot('mixture-dark')
  await page.getByRole('button', { name: 'Light' }).click()
  await page.keyboard.press('Alt+1')
  await shot('brief')
  await page.keyboard.press('Alt+3')
  await page.getByRole('combobox', { name: 'Throttle stop' }).click({ force: true })
  await page.getByRole('option', { name: '60 % (3)' }).filter({ visible: true }).click()
  await page.locator('.list .run', { hasText: '60 %, run 2' }).click()
  await page.mouse.move(500, 300)
  await shot('baseline')
  const view = (name) => page.getByRole('radiogroup', { name: 'View' }).getByText(name, { exact: true }).click()
  await view('Compare')
  await page.getByText('gain begins at').waitFor()
  await page.mouse.move(640, 300)
  await shot('compare')
  await view('Plan')
  await page.getByText('cells not settled').first().waitFor()
  await shot('plan')
  await view('Hand readings')
  await page.locator('[data-cell="0:0"]').click()
  for (const text of ['3000', '20', '13.9-14.1', '4000', '', '14.4', '', '', '13.3-13.6']) {
    await page.keyboard.type(text)
    await page.keyboard.press('Enter')
  }
  await shot('hand-readings')
  await view('Runs')
  await page.getByLabel('Logs to add').setInputFiles({
    name: 'shed.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'Zeit;Drehzahl;Drosselklappe;Messwert\ns;1/min;%;\n0,00;3000;20,0;13,10\n0,02;3020;20,1;13,21\n0,04;3041;20,0;13,18\n',
    ),
  })
  await shot('import')
  await page.getByRole('button', { name: 'Cancel' }).click()
  await page.keyboard.press('Alt+5')
  await page.getByRole('button', { name: /Take all [1-9]/ }).waitFor()
  await page.locator('[data-at="8:9"]').click()
  await shot('change')
  await page.getByRole('button', { name: /Take all [1-9]/ }).click()
  await page.locator('[data-at="8:9"]').click()
  await page.keyboard.press('Control+s')
  await page.getByRole('dialog').getByRole('button', { name: 'Save revision 2' }).click()
  await page.getByText('Revision 2', { exact: true }).waitFor()
  await tab(/Revisions/)
  await page.getByRole('button', { name: 'Compare two revisions' }).click()
  await page.waitForTimeout(4000)
  await shot('change-revisions')
  await page.getByRole('link', { name: 'Bench', exact: true }).click()
  await page.getByRole('spinbutton', { name: 'Coolant at the start in °C' }).fill('82')
  await page.getByText('four times as fast').click()
  await page.getByRole('button', { name: 'Connect the simulated rig' }).click()
  await page.getByRole('button', { name: 'Take the wheel' }).click()
  await tab('Sensors')
  await page.getByRole('button', { name: 'This is shut' }).click()
  await page.getByRole('button', { name: 'Hold the plate wide open' }).click()
  await page.getByText('now 4.38 V').waitFor()
  await page.getByRole('button', { name: 'This is wide open' }).click()
  await page.getByRole('button', { name: 'Let the plate shut' }).click()
  await page.getByRole('button', { name: 'This is free air' }).click()
  await tab('Runs')
  await page.getByRole('button', { name: 'Run sweep at wide open' }).click()
  await page.getByText('Sweep at 100 %: running.').waitFor()
  await page.waitForTimeout(1800)
  await shot('bench')
  await page
    .getByText(/is in the job|is kept/)
    .first()
    .waitFor()
  await tab('Loop')
  await page.waitForTimeout(2500)
  await shot('bench-loop')
  await page.goto('http://127.0.0.1:5395/')
  await page.getByRole('link', { name: 'Curlew 437, spark held back', exact: true }).click()
  await page.getByText('All saved').waitFor()
  await page.keyboard.press('Alt+6')
  await page.getByRole('option').first().waitFor()
  await page.getByRole('option').nth(1).click()
  await shot('spark')
  await view('Table')
  await page.getByRole('button', { name: /Take all [1-9]/ }).waitFor()
  await page.locator('[data-at="7:8"]').click()
  await shot('spark-table')
  await view('Mixture sweep')
  await page.getByText('Torque is flat about its best').waitFor()
  await shot('spark-mixture')
  await page.goto('http://127.0.0.1:5395/')
  await page.getByRole('link', { name: 'Dunlin 208, plate and springs', exact: true }).click()
  await page.getByText('All saved').waitFor()
  await page.keyboard.press('Alt+6')
  await view('Settings')
  await page.getByText(/torque with 15/).waitFor()
  await page.mouse.move(420, 300)
  await shot('spark-settings')
  await page.goto('http://127.0.0.1:5395/trainer')
  await page
    .getByRole('button', { name: /^Take: / })
    .first()
    .waitFor()
  await shot('trainer')
  await page.goto('http://127.0.0.1:5395/')
  await page.getByRole('link', { name: 'Plover 312, slide carburettor', exact: true }).click()
  await page.getByRole('link', { name: /Change/ }).click()
  await page.getByRole('heading', { name: 'One change' }).waitFor()
  await page.locator('li button[aria-pressed]').first().click()
  await shot('carburettor')
} finally {
  await browser.close()
  server.kill()
  rmSync(folder, { recursive: true, force: true })
}
