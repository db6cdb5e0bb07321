import {
  isStanding,
  refused,
  DEFAULT_SAFETY,
  DIAGNOSES,
  faultsAfter,
  rigOf,
  scoreAttempt,
  TRAINER_CASES,
  trueFlatness,
  unsafeWatch,
  WORKSHOP_ACTS,
  type LookedRun,
  type OpenCase,
  type Rig,
  type TrainerCase,
  type TrainingResult,
  type TrainingState,
} from '@yuzumix/core'
import type { Store } from '../../store/database'
import type { TrainingData } from '../../store/models'
import { listEntries } from '../../store/entries'
import { loadRigMemory } from '../../store/rigs'
import { listRuns } from '../../store/runs'
import { changeTraining, createTraining, findTraining } from '../../store/trainings'
import type { Benches } from '../../sessions/benches'
import { connectSimulated, simulatedOf } from '../../sessions/connect'
import { controllerSlots } from '../../rigs/controllerSlots'
import type { BenchSession } from '../../sessions/session'

/** Cases of the trainer being worked on. */
export interface Trainings {
  start(caseId: string): Promise<string | null>
  state(job: string): Promise<TrainingState | null>
  connect(job: string, speed: 1 | 4): Promise<BenchSession>
  act(job: string, act: string): Promise<void>
  finish(job: string, diagnosis: string): Promise<void>
}

/** Acts in the logbook after which a machine is another. */
const CHANGES = ['workshop', 'written to the bench']

/** Things of the rig's clock are stored at least this often, s. */
const STORED_EVERY = 1

export function openCase({ id, title, brief, machine }: TrainerCase): OpenCase {
  return { id, title, brief, machine: machine.name, cylinders: machine.engine.cylinders }
}

/** @throws Refusal 'bench' for what cannot be done now, or is not known */
export function openTrainings(store: Store, benches: Benches): Trainings {
  /** What runs along with a session and is not stored yet. */
  const live = new Map<
    string,
    { session: BenchSession; data: TrainingData; storedAt: number; begun: number; time: number }
  >()

  async function known(job: string): Promise<{ one: TrainerCase; data: TrainingData }> {
    const row = await findTraining(store, job)
    const one = row && TRAINER_CASES.find((other) => other.id === row.caseId)
    if (!row || !one) throw refused('bench', 'This job is no case of the trainer.', 'training')
    return { one, data: row.data }
  }
  async function open(job: string): Promise<{ one: TrainerCase; data: TrainingData }> {
    const training = await known(job)
    if (training.data.finished) throw refused('bench', 'This case is finished. Start it anew to try again.', 'training')
    return training
  }
  const withSeen = (data: TrainingData, seen: { data: TrainingData; begun: number; time: number }): TrainingData => ({
    ...data,
    unsafe: seen.data.unsafe,
    seconds: seen.data.seconds + seen.time - seen.begun,
  })
  /** What is stored, with what the session under way has added. */
  const upToDate = (job: string, data: TrainingData): TrainingData => {
    const now = live.get(job)
    return now && benches.of(job) === now.session ? withSeen(data, now) : data
  }
  /** The machine as it is in truth now: its faults, and what is in its controller. */
  async function truth(job: string, one: TrainerCase, acts: readonly string[]): Promise<Rig> {
    const session = benches.of(job)
    const connected = session && simulatedOf(session)
    if (connected) return connected.rig
    const rig = { ...rigOf(one.machine), faults: faultsAfter(one.faults, acts, one.machine.engine.cylinders) }
    const memory = await loadRigMemory(store, job, one.machine.id)
    for (const [k, slot] of controllerSlots(rig, one.machine).entries()) {
      const kept = memory?.kept[k]
      if (kept) slot.load(kept)
    }
    return rig
  }
  /** Which of the case's looks the job's runs show. */
  async function lookedAt(job: string, one: TrainerCase): Promise<boolean[]> {
    const done = (await listEntries(store, job)).filter((entry) => CHANGES.includes(entry.act)).map((entry) => entry.at)
    const last = done.sort().at(-1) ?? ''
    // What was read counts, not what was run through: an aborted run tells of the speeds that its settled readings cover.
    const runs = (await listRuns(store, job)).flatMap(({ facts, createdAt }): LookedRun[] => {
      if (!facts || facts.settledFromRpm == null || facts.settledToRpm == null) return []
      const { stop, settledFromRpm: fromRpm, settledToRpm: toRpm } = facts
      return [{ stop, fromRpm, toRpm, isAfter: createdAt > last }]
    })
    return one.looks.map((look) => look.isDone(runs))
  }
  const runsOf = async (job: string): Promise<number> => (await listRuns(store, job)).length

  async function resultOf(job: string, one: TrainerCase, data: TrainingData): Promise<TrainingResult | null> {
    if (!data.finished) return null
    const { diagnosis, runs, after, looked } = data.finished
    const before = trueFlatness({
      ...rigOf(one.machine),
      faults: faultsAfter(one.faults, [], one.machine.engine.cylinders),
    })
    const attempt = {
      diagnosis,
      acts: data.acts,
      runs,
      rigMinutes: data.seconds / 60,
      unsafe: data.unsafe,
      // Finished before it was known what was looked at: nothing is taken off for it.
      looked: looked ?? one.looks.map(() => true),
      before,
      after,
    }
    return {
      diagnosis,
      truth: DIAGNOSES.find((other) => other.id === one.diagnosis)!.name,
      found: diagnosis === one.diagnosis,
      ...scoreAttempt(one, attempt),
      expert: [...one.expert],
      unsafe: data.unsafe,
    }
  }

  return {
    async start(caseId) {
      const one = TRAINER_CASES.find((other) => other.id === caseId)
      if (!one) return null
      const { machine } = one
      return createTraining(store, caseId, {
        title: `Trainer: ${one.title}`,
        machine: {
          name: machine.name,
          cylinders: machine.engine.cylinders,
          displacementCc: machine.engine.displacementCc,
          strokes: 4,
        },
        fuel: { id: 'e5' },
        complaint: one.complaint,
        fitted: one.fitted,
      })
    },
    async state(job) {
      const row = await findTraining(store, job)
      if (!row) return null
      const { one, data: stored } = await known(job)
      const data = upToDate(job, stored)
      return {
        case: openCase(one),
        acts: WORKSHOP_ACTS.map(({ id, name, minutes }) => ({ id, name, minutes, done: data.acts.includes(id) })),
        diagnoses: DIAGNOSES.map(({ id, name }) => ({ id, name })),
        runs: await runsOf(job),
        minutes: data.seconds / 60,
        unsafe: data.unsafe.length,
        result: await resultOf(job, one, data),
      }
    },
    async connect(job, speed) {
      const { one, data } = await known(job)
      await benches.disconnect(job)
      // What the session before saw is stored when this is done.
      await store.act(() => Promise.resolve())
      const session = await connectSimulated(store, benches, job, {
        machine: one.machine,
        name: `${one.machine.name}, as it came in`,
        faults: faultsAfter(one.faults, data.acts, one.machine.engine.cylinders),
        speed,
      })
      if (data.finished) return session
      const now = { session, data: structuredClone((await known(job)).data), storedAt: 0, begun: 0, time: 0 }
      live.set(job, now)
      let storing = false
      const watch = unsafeWatch({ ...DEFAULT_SAFETY, rpm: session.link.redline + 300 })
      session.listen(({ sample }) => {
        if (!sample || live.get(job) !== now) return
        if (now.time === 0) now.begun = sample.time
        now.time = sample.time
        const step = watch.see(sample)
        if (step) now.data.unsafe = [...now.data.unsafe, step]
        if (!step && (storing || sample.time - now.storedAt < STORED_EVERY)) return
        now.storedAt = sample.time
        storing = true
        // By what this session has seen, also where it is let go before its turn to be stored comes.
        void changeTraining(store, job, (stored) => (stored.finished ? stored : withSeen(stored, now)))
          .catch(() => undefined)
          .finally(() => (storing = false))
      })
      return session
    },
    async act(job, id) {
      const { one, data } = await open(job)
      const act = WORKSHOP_ACTS.find((other) => other.id === id)
      if (!act) throw refused('bench', `There is no act "${id.slice(0, 40)}".`, 'act')
      const session = benches.of(job)
      const connected = session && simulatedOf(session)
      if (connected && !isStanding(session.latestRpm()))
        throw refused('bench', 'Stop the engine before anything is taken apart.', 'engine')
      const acts = data.acts.includes(id) ? data.acts : [...data.acts, id]
      const done = { act: 'workshop', text: act.name }
      await changeTraining(store, job, (stored) => ({ ...upToDate(job, stored), acts }), done)
      if (connected) Object.assign(connected.rig.faults, faultsAfter(one.faults, acts, one.machine.engine.cylinders))
    },
    async finish(job, diagnosis) {
      const { one, data } = await open(job)
      const answer = DIAGNOSES.find((other) => other.id === diagnosis)
      if (!answer) throw refused('bench', `There is no diagnosis "${diagnosis.slice(0, 40)}".`, 'diagnosis')
      const finished = {
        diagnosis: answer.id,
        at: new Date().toISOString(),
        runs: await runsOf(job),
        looked: await lookedAt(job, one),
        after: trueFlatness(await truth(job, one, data.acts)),
      }
      await changeTraining(store, job, (stored) => ({ ...upToDate(job, stored), finished }), {
        act: 'case finished',
        text: answer.name,
      })
      live.delete(job)
    },
  }
}
