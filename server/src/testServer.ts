import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Express } from 'express'
import { pino } from 'pino'
import { createApp } from './app'
import { openPool } from './pool/pool'
import { openStore, type Store } from './store/database'

export interface TestServer {
  app: Express
  store: Store
  folder: string
  /** closes everything and opens it again on the same folder, as a restart does */
  restart(): Promise<void>
  stop(): Promise<void>
}

const root = join(__dirname, '../..')

/** The whole application on a fresh folder, with the built worker; for tests only. */
export async function testServer(): Promise<TestServer> {
  const folder = await mkdtemp(join(tmpdir(), 'yuzumix-test-'))
  const pool = openPool(join(root, 'server/dist/worker.js'))
  const server = {} as TestServer
  const open = async (): Promise<void> => {
    server.store = await openStore(folder)
    server.app = createApp({
      store: server.store,
      pool,
      root,
      version: 'test',
      open: false,
      log: pino({ level: 'silent' }),
    })
  }
  await open()
  return Object.assign(server, {
    folder,
    async restart() {
      await server.store.close()
      await open()
    },
    async stop() {
      await pool.close()
      await server.store.close()
      await rm(folder, { recursive: true, force: true })
    },
  })
}
