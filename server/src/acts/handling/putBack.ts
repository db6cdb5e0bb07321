import { inputRefused, openPutBacks, type NewPutBack, type PutBack, type PutBackChange } from '@yuzumix/core'
import type { Transaction } from 'sequelize'
import type { Store } from '../../store/database'
import { findPhoto, writeEntry } from '../../store/entries'
import { addLine, changeLine, insertLine, listLines, updateLine, type StoredLine } from '../../store/lines'

type Data = Omit<PutBack, 'id' | 'at'>
const told = ({ id, at, data }: StoredLine<Data>): PutBack => ({ id, at, ...data })

export async function listPutBack(store: Store, job: string): Promise<PutBack[]> {
  return (await listLines<Data>(store, job, 'put-back')).map(told)
}

/** Notes something that was changed only for the session. */
export async function notePutBack(store: Store, job: string, line: NewPutBack): Promise<PutBack> {
  const data = { ...line, automatic: false, back: false, leftSo: false, told: null }
  return told(
    await addLine<Data>(store, job, 'put-back', data, [
      'to be put back',
      `${line.what}: was ${line.was}, now ${line.now}`,
    ]),
  )
}

/**
 * It is back, or left so with somebody told, or a photo shows how it was; null when there is no such line.
 *
 * @throws Refusal 'input-refused' when the line of the logbook has no photo
 */
export async function settlePutBack(
  store: Store,
  job: string,
  id: string,
  { back, leftSo, told: whom, photo }: PutBackChange,
): Promise<PutBack | null> {
  if (photo && !(await findPhoto(store, job, photo)))
    throw inputRefused([{ field: 'photo', message: 'there is no such line with a photo in the logbook of this job' }])
  const line = await changeLine<Data>(store, job, 'put-back', id, (now) => {
    const data = {
      ...now,
      back: back ?? (leftSo ? false : now.back),
      leftSo: leftSo ?? (back ? false : now.leftSo),
      told: leftSo ? (whom ?? now.told) : leftSo === false || back ? null : now.told,
      photo: photo === undefined ? now.photo : photo,
    }
    if (back === undefined && leftSo === undefined) return { data, said: ['photo of how it was', now.what] }
    const how = data.back ? 'put back' : data.leftSo ? `left so, told ${data.told}` : 'open again'
    return { data, said: [how, now.what] }
  })
  return line && told(line)
}

/** What must be back before a write, and is not. */
export async function openBefore(store: Store, job: string, due: PutBack['due']): Promise<PutBack[]> {
  return openPutBacks(await listPutBack(store, job)).filter((one) => one.due === due)
}

const CONTROLLER = 'controller'

/** The application itself wrote to the controller and did not keep it: one line, opened anew by each further write. */
export async function noteWritten(store: Store, transaction: Transaction, job: string, name: string): Promise<void> {
  const line = {
    what: 'Contents of the controller',
    was: 'as found, kept in the job',
    now: `${name} written, not kept`,
    due: 'hand-over' as const,
  }
  const open = { back: false, leftSo: false, told: null }
  const known = await updateLine<Data>(store, transaction, job, 'put-back', CONTROLLER, (now) => ({
    data: { ...now, ...line, ...open },
    said: ['to be put back', `${line.what}: now ${line.now}`],
  }))
  if (known) return
  const data = { ...line, automatic: true, ...open }
  await insertLine(store, transaction, job, 'put-back', { id: CONTROLLER, at: new Date().toISOString(), data })
  await writeEntry(store, transaction, job, 'to be put back', `${line.what}: was ${line.was}, now ${line.now}`)
}

/** What was written is kept, restored or lost with the power: nothing is left to put back. */
export async function noteSettled(store: Store, transaction: Transaction, job: string, how: string): Promise<void> {
  const open = (await listPutBack(store, job)).some((one) => one.id === CONTROLLER && !one.back)
  if (!open) return
  await updateLine<Data>(store, transaction, job, 'put-back', CONTROLLER, (now) => ({
    data: { ...now, now: how, back: true, leftSo: false, told: null },
    said: ['put back', `${now.what}: ${how}`],
  }))
}
