import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './ready.mjs'

/** Packages that the running application is made of, by the lock file: not those that build or test it. */
export function shippedPackages() {
  const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'))
  return Object.entries(packages)
    .filter(([path, one]) => path.includes('node_modules/') && !one.dev && !one.link && !one.optional)
    .map(([path, { version, license }]) => ({ path, name: path.split('node_modules/').at(-1), version, license }))
    .filter(({ path }) => existsSync(join(root, path)))
    .sort((a, b) => (a.name < b.name ? -1 : 1))
}

/** Names and licences of all of them, with the text of each licence: what is to be passed on with the application. */
export function notice() {
  const parts = shippedPackages().map(({ path, name, version, license }) => {
    const folder = join(root, path)
    const file = readdirSync(folder).find((one) => /^(licen[cs]e|copying)(\.|-|$)/i.test(one))
    const text = file ? readFileSync(join(folder, file), 'utf8').trim() : `Licence as its package says: ${license}`
    return `${name} ${version} (${license})\n\n${text}`
  })
  const head = 'Yuzumix is made with these packages. Each is under its own licence, which follows.'
  return `${[head, ...parts].join(`\n\n${'-'.repeat(78)}\n\n`)}\n`
}
