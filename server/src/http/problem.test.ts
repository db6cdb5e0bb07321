import { Refusal } from '@yuzumix/core'
import type { Request, Response } from 'express'
import type { Logger } from 'pino'
import { problemHandler } from './problem'

const logged: unknown[] = []
const sent: { status: number; body: unknown }[] = []
beforeEach(() => {
  logged.length = 0
  sent.length = 0
})
/** Hands an error to the handler, with a response that still stands or whose asker has gone. */
function handle(error: Error, destroyed = false): void {
  let status = 0
  const response = {
    headersSent: false,
    destroyed,
    status: (now: number) => ((status = now), response),
    type: () => response,
    send: (text: string) => sent.push({ status, body: JSON.parse(text) }),
  }
  const log = { error: (one: unknown) => logged.push(one) } as unknown as Logger
  problemHandler(log)(error, {} as Request, response as unknown as Response, () => undefined)
}
const called = Object.assign(new Error('The task has been aborted'), { name: 'AbortError' })

describe('errors as problem documents', () => {
  it('says nothing and logs nothing where whoever asked has gone', () => {
    handle(called, true)
    expect([logged, sent]).toEqual([[], []])
  })
  it('logs a fault of our own with its insides, and tells it without them', () => {
    handle(new Error('sqlite: disk I/O error'))
    expect(logged).toHaveLength(1)
    expect(sent).toMatchObject([{ status: 500, body: { title: 'Fault in Yuzumix', status: 500 } }])
    expect(JSON.stringify(sent)).not.toContain('sqlite')
  })
  it('logs what breaks off by itself, and a fault that nobody waits for any more', () => {
    handle(called)
    handle(new Error('out of memory'), true)
    expect(logged).toHaveLength(2)
  })
  it('tells what was refused as it is, unlogged', () => {
    handle(new Refusal('changed-meanwhile', 'Load it anew.', [{ field: 'base', message: 'is not the last' }]))
    expect(logged).toEqual([])
    expect(sent[0]).toMatchObject({
      status: 412,
      body: { title: 'Changed meanwhile', detail: 'Load it anew.', errors: [{ field: 'base' }] },
    })
  })
})
