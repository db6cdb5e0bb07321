import { Refusal, passGate, SIMULATED_MACHINES, type BenchState } from '@yuzumix/core'
import { benchState, calibrateBench, tellBench, unkeptDangers, writeBench } from '../acts/bench/benchActs'
import { writeWay } from '../acts/bench/writeWay'
import type { Benches } from '../sessions/benches'
import { simulatedOf } from '../sessions/connect'
import { connectRig } from '../sessions/makers'
import type { BenchSession } from '../sessions/session'
import { writeEntry } from '../store/entries'
import { findTraining } from '../store/trainings'
import type { Workshop } from '../acts/questions/ask'
import type { Asked, Handlers } from './handlers'

/** Whoever asks of a bench, and says in a header who drives. */
type OnBench = Pick<Asked<'bench'>, 'at' | 'request'>

export function benchHandlers(context: Workshop, benches: Benches) {
  const { store } = context

  /** Whoever does not drive does not act on the bench while somebody else does: acts over HTTP say who drives. */
  function sessionFor({ at, request }: OnBench): BenchSession {
    const session = benches.of(at.job)
    if (!session) throw new Refusal('no-bench', 'No bench is connected to this job. Connect one first.')
    session.needsNobodyElse(request.get('x-driver'))
    return session
  }
  /** Does an act on the bench, and answers how it is then. */
  async function act(asked: OnBench, work: (session: BenchSession) => Promise<void>): Promise<BenchState> {
    const session = sessionFor(asked)
    await work(session)
    return benchState(session)
  }

  return {
    benchMachines: () => SIMULATED_MACHINES.map(({ id, name, engine }) => ({ id, name, cylinders: engine.cylinders })),
    bench({ at }) {
      const session = benches.of(at.job)
      return session ? benchState(session) : null
    },
    async connectBench({ job, body, request }) {
      const own = await job()
      if (await findTraining(store, own.id))
        throw new Refusal('trainer-case', 'This job is a case of the trainer: its own machine is on the drum.')
      const before = benches.of(own.id)
      before?.needsNobodyElse(request.get('x-driver'))
      if (before) passGate(unkeptDangers(before), body.override)
      const session = await connectRig(store, benches, own, body)
      store.changes.notify({ job: own.id, parts: ['bench'] })
      return benchState(session)
    },
    async disconnectBench({ at, request }) {
      benches.of(at.job)?.needsNobodyElse(request.get('x-driver'))
      if (!(await benches.disconnect(at.job))) throw new Refusal('not-found', 'No bench is connected to this job.')
      await store.act((transaction) => writeEntry(store, transaction, at.job, 'bench disconnected', ''))
      store.changes.notify({ job: at.job, parts: ['bench'] })
      return true
    },
    benchFaults(asked) {
      const faults = simulatedOf(sessionFor(asked))?.faults
      if (!faults) throw new Refusal('no-simulated-rig', 'Only a simulated rig can be given faults.')
      return Object.assign(faults, asked.body)
    },
    calibrateBench: (asked) => act(asked, (session) => calibrateBench(store, session, asked.at.step)),
    writeBench: (asked) =>
      act(asked, (session) => writeBench(context, session, asked.at.table, asked.body.values, asked.body.override)),
    writeWay: (asked) =>
      act(asked, (session) => writeWay(context, session, asked.at.kind, asked.body.settings, asked.body.override)),
    keepBench: (asked) => act(asked, (session) => tellBench(store, session, 'keep')),
    restoreBench: (asked) => act(asked, (session) => tellBench(store, session, 'restore', asked.body.override)),
    recoverBench: (asked) => act(asked, (session) => tellBench(store, session, 'recover')),
    cutPower: (asked) => act(asked, (session) => tellBench(store, session, 'powerCycle')),
  } satisfies Partial<Handlers>
}
