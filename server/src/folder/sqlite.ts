import sqlite3 from 'sqlite3'

/** One connection to a database file, beside those of the store. */
export interface Connection {
  all<Row>(sql: string): Promise<Row[]>
  /** Copies the whole of it by SQLite's online backup, while others read and write. */
  copyTo(path: string): Promise<void>
  /** Puts the whole of another database in its place, in one transaction. */
  copyFrom(path: string): Promise<void>
  close(): Promise<void>
}

/** What the driver lacks in its types. */
interface Backup {
  step(pages: number, done: (error: Error | null) => void): void
  finish(done: (error: Error | null) => void): void
}
interface BacksUp {
  backup(
    path: string,
    destination: string,
    source: string,
    isDestination: boolean,
    done: (error: Error | null) => void,
  ): Backup
}

const finished = (work: (done: (error: Error | null) => void) => unknown): Promise<void> =>
  new Promise((resolve, reject) => void work((error) => (error ? reject(error) : resolve())))

/**
 * Opens a database file.
 *
 * @param how whether it is made where there is none
 * @throws the driver's error, which carries a `code` such as SQLITE_CANTOPEN or SQLITE_NOTADB
 */
export async function connectTo(path: string, how: 'write' | 'make'): Promise<Connection> {
  const flags = {
    write: sqlite3.OPEN_READWRITE,
    make: sqlite3.OPEN_READWRITE | sqlite3.OPEN_CREATE,
  }
  const database = await new Promise<sqlite3.Database>((resolve, reject) => {
    const opened = new sqlite3.Database(path, flags[how], (error) => (error ? reject(error) : resolve(opened)))
  })
  async function copy(other: string, isDestination: boolean): Promise<void> {
    let backup: Backup
    await finished((done) => {
      backup = (database as unknown as BacksUp).backup(other, 'main', 'main', isDestination, done)
    })
    try {
      await finished((done) => backup.step(-1, done))
    } finally {
      await finished((done) => backup.finish(done))
    }
  }
  return {
    all: (sql) =>
      new Promise((resolve, reject) =>
        database.all(sql, (error, rows) => (error ? reject(error) : resolve(rows as never))),
      ),
    copyTo: (other) => copy(other, true),
    copyFrom: (other) => copy(other, false),
    close: () => finished((done) => database.close(done)),
  }
}
