import { closeSync, existsSync, openSync, readSync, statSync } from 'node:fs'
import { connectTo } from './sqlite'

/** First bytes of every database of SQLite (its published file format, "Database Header"). */
const HEADER = 'SQLite format 3\0'

/**
 * What is wrong with a database file, in words; null where nothing is.
 *
 * @param how "quick" leaves out what hangs on the content of indexes; "full" is SQLite's integrity check
 */
export async function faultOfFile(path: string, how: 'quick' | 'full'): Promise<string | null> {
  if (!existsSync(path)) return 'it is not there'
  if (statSync(path).size === 0) return 'it is empty: zero bytes long'
  const head = Buffer.alloc(HEADER.length)
  const file = openSync(path, 'r')
  readSync(file, head, 0, head.length, 0)
  closeSync(file)
  if (head.toString('latin1') !== HEADER) return 'it is no database: its first bytes are of another kind'
  let connection
  try {
    connection = await connectTo(path, 'write')
    const rows = await connection.all<Record<string, string>>(
      how === 'full' ? 'PRAGMA integrity_check(3)' : 'PRAGMA quick_check(3)',
    )
    const said = rows.map((row) => Object.values(row)[0]!)
    return said.length === 1 && said[0] === 'ok' ? null : `it is damaged: ${said[0]}`
  } catch (error) {
    const { code } = error as { code?: string }
    if (code === 'SQLITE_CORRUPT' || code === 'SQLITE_NOTADB') return 'it is damaged: it cannot be read'
    throw error
  } finally {
    await connection?.close()
  }
}
