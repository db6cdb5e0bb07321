import { effectScope, nextTick, ref } from 'vue'
import type { RunColumns, RunInfo } from '@yuzumix/core'
import type { Connected } from './connect'
import { useRunWorker, type Work } from './useRunWorker'

interface Doubler {
  addRun(key: string, run: RunColumns): void
  double(value: number): number
}

/** Answers that are given when the test says so. */
function later<T>() {
  let give!: (value: T) => void
  let fail!: (error: Error) => void
  const answer = new Promise<T>((resolve, reject) => ([give, fail] = [resolve, reject]))
  return { answer, give, fail }
}

function setUp() {
  const added: string[] = []
  const asked: { value: number; reply: ReturnType<typeof later<number>> }[] = []
  const workers: { ended: boolean }[] = []
  const fetched: string[] = []
  const connect = (): Connected<Doubler> => {
    const mine = { ended: false }
    workers.push(mine)
    const remote = {
      addRun: (key: string) => Promise.resolve(void added.push(key)),
      double(value: number) {
        const reply = later<number>()
        asked.push({ value, reply })
        return reply.answer
      },
    }
    return { remote: remote as unknown as Connected<Doubler>['remote'], end: () => (mine.ended = true) }
  }
  const fetch = (_job: string, runs: readonly RunInfo[]): Promise<RunColumns[]> => {
    fetched.push(...runs.map(({ id }) => id))
    return runs.some(({ id }) => id === 'gone')
      ? Promise.reject(new Error('The run is gone.'))
      : Promise.resolve(runs.map(({ id }) => ({ id, time: new Float32Array(1), rpm: new Float32Array(1), lambda: [] })))
  }
  const scope = effectScope()
  const worker = scope.run(() => useRunWorker(connect, () => 'job', 'field', fetch))!
  const shown = ref<number[]>([])
  const doubled =
    (value: number, runs: RunInfo[] = []) =>
    async ({ send, ask }: Work<Doubler>): Promise<void> => {
      await send(runs)
      shown.value.push(await ask((remote) => remote.double(value) as unknown as Promise<number>))
    }
  return { worker, scope, added, asked, workers, fetched, shown, doubled }
}
const run = (id: string): RunInfo => ({ id, gaugeScale: null, sensorPlace: null, leftOut: null }) as RunInfo
const settled = async (): Promise<void> => {
  for (let k = 0; k < 20; k++) await nextTick()
}

describe('work of a worker', () => {
  it('starts no worker before the first question, and sends each run once', async () => {
    const { worker, workers, asked, fetched, added, doubled, shown } = setUp()
    expect(workers).toHaveLength(0)
    const first = worker.run(doubled(1, [run('a'), run('b')]))
    await settled()
    asked[0]!.reply.give(2)
    expect(await first).toBe(true)
    const second = worker.run(doubled(2, [run('a'), run('c')]))
    await settled()
    asked[1]!.reply.give(4)
    expect(await second).toBe(true)
    expect([fetched, added.length, workers.length, shown.value]).toEqual([['a', 'b', 'c'], 3, 1, [2, 4]])
    expect([worker.busy.value, worker.loaded.value, worker.problem.value]).toEqual([false, 1, ''])
  })

  it('drops an answer that comes after newer work began', async () => {
    const { worker, asked, doubled, shown } = setUp()
    const first = worker.run(doubled(1))
    await settled()
    const second = worker.run(doubled(2))
    await settled()
    asked[1]!.reply.give(4)
    expect(await second).toBe(true)
    asked[0]!.reply.give(2)
    expect(await first).toBe(false)
    expect(shown.value).toEqual([4])
  })

  it('is busy until the newest of two in flight is through', async () => {
    const { worker, asked, doubled } = setUp()
    const first = worker.run(doubled(1))
    await settled()
    const second = worker.run(doubled(2))
    await settled()
    asked[0]!.reply.give(2)
    await first
    expect(worker.busy.value).toBe(true)
    asked[1]!.reply.give(4)
    await second
    expect(worker.busy.value).toBe(false)
  })

  it('tells a failure of what it waits for, and goes on with the next', async () => {
    const { worker, asked, doubled, shown } = setUp()
    expect(await worker.run(doubled(1, [run('gone')]))).toBe(false)
    expect(worker.problem.value).toBe('The run is gone.')
    const next = worker.run(doubled(2))
    await settled()
    asked[0]!.reply.give(4)
    await next
    expect([worker.problem.value, shown.value]).toEqual(['', [4]])
  })

  it('says nothing of a failure that nobody waits for any more', async () => {
    const { worker, asked, doubled } = setUp()
    const first = worker.run(doubled(1))
    await settled()
    const second = worker.run(doubled(2))
    await settled()
    asked[0]!.reply.fail(new Error('too late'))
    await first
    asked[1]!.reply.give(4)
    await second
    expect(worker.problem.value).toBe('')
  })

  it('ends the worker when stopped, drops its answer, and begins anew with all runs', async () => {
    const { worker, workers, asked, fetched, doubled, shown } = setUp()
    const stopped = worker.run(doubled(1, [run('a')]))
    await settled()
    worker.cancel('Stopped.')
    expect([worker.busy.value, worker.problem.value, workers[0]!.ended]).toEqual([false, 'Stopped.', true])
    asked[0]!.reply.give(2)
    expect(await stopped).toBe(false)
    expect(worker.problem.value).toBe('Stopped.')
    const next = worker.run(doubled(2, [run('a')]))
    await settled()
    asked[1]!.reply.give(4)
    await next
    expect([shown.value, workers.length, fetched]).toEqual([[4], 2, ['a', 'a']])
  })

  it('ends with the page that it belongs to', async () => {
    const { worker, scope, workers, asked, doubled, shown } = setUp()
    const work = worker.run(doubled(1))
    await settled()
    scope.stop()
    asked[0]!.reply.give(2)
    expect(await work).toBe(false)
    expect([workers[0]!.ended, shown.value]).toEqual([true, []])
  })
})
