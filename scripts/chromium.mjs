import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'

// The one without a screen first: the tests take an eighth less of the processor with it.
const PLACES = JSON.parse(readFileSync(new URL('./chromium-places.json', import.meta.url), 'utf8'))

/** What Chromium is started with: no network of its own, no screen. */
export const CHROMIUM_ARGS = JSON.parse(readFileSync(new URL('./chromium-args.json', import.meta.url), 'utf8'))

/** Path of a Chromium, installed from Debian's packages where there is none. */
export function chromium() {
  const found = () => [process.env.CHROMIUM_PATH, ...PLACES].find((path) => path && existsSync(path))
  if (found()) return found()
  console.log("Installing Chromium from Debian's packages ...")
  const sudo = process.getuid?.() === 0 ? [] : ['sudo', '-n']
  for (const args of [
    ['apt-get', 'update', '-qq'],
    ['apt-get', 'install', '-y', '-qq', '--no-install-recommends', 'chromium', 'fonts-dejavu-core'],
  ]) {
    const [command, ...rest] = [...sudo, ...args]
    spawnSync(command, rest, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
  }
  const path = found()
  if (!path)
    throw new Error(
      'No Chromium was found or could be installed. Install the package "chromium", or set CHROMIUM_PATH.',
    )
  return path
}
