import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))

/** Fills the demo store once, where nobody did; each file of tests works on a copy of it. */
export default async function fillDemo(): Promise<void | (() => void)> {
  if (process.env['YUZUMIX_E2E_DEMO']) return
  const folder = mkdtempSync(join(tmpdir(), 'yuzumix-e2e-demo-'))
  const env = { ...process.env, YUZUMIX_DATA: folder }
  const filling = spawn(process.execPath, [join(root, 'server/dist/demo.js')], { env, stdio: 'ignore' })
  const code = await new Promise<number | null>((resolve) => filling.once('exit', resolve))
  if (code !== 0) throw new Error(`The demo could not be filled: it ended with ${code}.`)
  process.env['YUZUMIX_E2E_DEMO'] = folder
  return () => rmSync(folder, { recursive: true, force: true })
}
