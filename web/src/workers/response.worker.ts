import { expose } from 'comlink'
import {
  askPlate,
  respond,
  type MadePlate,
  type PlateAsked,
  type Response,
  type ResponseChoice,
  type RunColumns,
} from '@yuzumix/core'
import { columnStore, type AskedRun } from './columnStore'

const columns = columnStore()

/** The answer to the hand, off the interface's thread. */
const responseWorker = {
  addRun(key: string, run: RunColumns): void {
    columns.add(key, run)
  },
  respond: (asked: readonly AskedRun[], choice: ResponseChoice): Response => respond(columns.pick(asked), choice),
  plate: (asked: readonly AskedRun[], wish: PlateAsked): MadePlate => askPlate(columns.pick(asked), wish),
}

export type ResponseWorker = typeof responseWorker
expose(responseWorker)
