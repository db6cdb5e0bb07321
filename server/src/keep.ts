import { existsSync, readFileSync } from 'node:fs'
import { createInterface } from 'node:readline/promises'
import { checkInput, isRefusal, namesSchema } from '@yuzumix/core'
import { openAccess } from './access/access'
import { dataFolder } from './dataFolder'
import { tellOfFolder } from './folder/doctor'
import { KEEPING, listBackups, makeBackup, storeFile } from './folder/backups'
import { restoreOffline } from './folder/restoreOffline'
import { refuseNewer } from './store/database'

/** A line that somebody types or pipes in. */
async function askedFor(what: string): Promise<string> {
  const lines = createInterface({ input: process.stdin, output: process.stdout })
  const text = await lines.question(what)
  lines.close()
  return text.trim()
}

/** Which version this is, and whether the store is one of its own. */
async function versions(folder: string): Promise<string> {
  const { version } = JSON.parse(readFileSync(new URL('../../package.json', import.meta.url), 'utf8')) as {
    version: string
  }
  if (!existsSync(storeFile(folder))) return `ok  Yuzumix ${version}`
  try {
    await refuseNewer(storeFile(folder))
    return `ok  Yuzumix ${version}; the store is of this version or an earlier one`
  } catch (error) {
    return `!!  Yuzumix ${version}: ${isRefusal(error) ? error.message : 'the store cannot be asked for its version'}`
  }
}

/** What is done with a folder from the command line: `backup`, `restore` a copy by its name, `passphrase`, `names` it answers to, or `doctor`. */
const [act, name] = process.argv.slice(2)
const folder = dataFolder()
const size = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`

try {
  if (act === 'backup') {
    const made = await makeBackup(folder, 'asked for')
    console.log(`Copied and checked: ${made.name}, ${size(made.bytes)}, in ${folder}. ${KEEPING}`)
  } else if (act === 'restore' && name) {
    const aside = await restoreOffline(folder, name)
    console.log(`Restored ${name} in ${folder}.${aside ? ` What was there is kept as ${aside}.` : ''}`)
  } else if (act === 'restore') {
    const all = listBackups(folder)
    for (const one of all) console.log(`${one.name}  ${one.kind}, ${size(one.bytes)}`)
    console.log(all.length ? 'Restore one with: npm run restore -- NAME' : `There are no backups in ${folder}.`)
  } else if (act === 'passphrase') {
    await openAccess(folder).setPassphrase(await askedFor('Passphrase, 10 characters or more: '))
    console.log('Set. Whoever was let in before tells it anew.')
  } else if (act === 'names') {
    const access = openAccess(folder)
    const names = process.argv.slice(3)
    if (names.length) access.setNames(checkInput(namesSchema, { names }).names)
    console.log(`Answers to: ${access.names().join(', ') || 'no name beyond this machine'}`)
  } else for (const line of [...(await tellOfFolder(folder)), await versions(folder)]) console.log(line)
} catch (error) {
  if (!isRefusal(error)) throw error
  console.error(error.message)
  process.exitCode = 1
}
