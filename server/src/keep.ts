import { isRefusal } from '@yuzumix/core'
import { dataFolder } from './dataFolder'
import { tellOfFolder } from './folder/doctor'
import { KEEPING, listBackups, makeBackup } from './folder/backups'
import { restoreOffline } from './folder/restoreOffline'

/** What is done with a folder from the command line: `backup`, `restore` a copy by its name, or `doctor`. */
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
  } else for (const line of await tellOfFolder(folder)) console.log(line)
} catch (error) {
  if (!isRefusal(error)) throw error
  console.error(error.message)
  process.exitCode = 1
}
