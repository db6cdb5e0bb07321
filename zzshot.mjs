import { chromium } from '@playwright/test'
const [,, url, out, size, ...acts] = process.argv
const [w, h] = size.split('x').map(Number)
const args = ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync']
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args })
const p = await b.newPage({ viewport: { width: w, height: h } })
await p.goto(url)
await p.waitForTimeout(3500)
for (const a of acts) { const k = a.slice(0, a.indexOf('=')), v = a.slice(a.indexOf('=') + 1); if (k === 'key') await p.keyboard.press(v); if (k === 'click') await p.getByText(v).first().click(); if (k === 'label') await p.getByLabel(v).first().click(); if (k === 'files') await p.getByLabel('Logs to add').setInputFiles(v.split(',')); if (k === 'wait') await p.waitForTimeout(+v); await p.waitForTimeout(700) }
await p.screenshot({ path: out })
await b.close()
