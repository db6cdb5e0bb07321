import { randomUUID } from 'node:crypto'
import {
  refused,
  controlDangers,
  DEFAULT_SAFETY,
  isCalibrated,
  kindOfScript,
  nameOfScript,
  passGate,
  scriptDangers,
  scriptDriver,
  type BenchNews,
  type GateLine,
  type RigSample,
  type RunInfo,
  type RunKind,
  type RunScript,
  type SafetyLimits,
  type ScriptDriver,
  type ScriptState,
  type SafetyStop as Stop,
  sentence,
} from '@yuzumix/core'
import { gatesOf } from './gatesOf'
import { runGuard } from './runGuard'
import type { BenchSession, Hear, Inside } from './session'
import { control } from './control'
import type { Store } from '../store/database'
import { isDiskFull } from '../folder/space'
import { writeEntry, writeLines } from '../store/entries'
import { findJob } from '../store/jobs'
import { noteRefused } from '../store/refused'
import type { Clock } from '../rigs/clock'
import { beginJournal, type Journal } from './journal'
import { boundTo, storeRecorded, type Bound, type Recording } from './recordedRun'
import { type RigLink } from '../rigs/rigLink'

/** Readings that a run has at least; of a source that may send but one a second, fewer. */
const LEAST_SAMPLES = { rig: 50, lines: 10 }
/** Steps in which watchers are told how far a script has come. */
const STEPS = 40
/** rpm beyond the redline at which a run is stopped: the limiter cuts before. */
const OVER_REDLINE = 300
/** ms without a reading after which the link counts as lost. */
const SILENCE = 2000

/** @param limits what stops a run by itself */
export function benchSession(
  store: Store,
  job: string,
  link: RigLink,
  clock: Clock,
  limits: SafetyLimits = { ...DEFAULT_SAFETY, rpm: link.redline + OVER_REDLINE },
): BenchSession {
  const hearers = new Set<Hear>()
  const driving = control()
  const guard = runGuard(limits)
  let said = `Connected: ${link.name}`
  let runs = 0
  let stopped = false
  /** the rig list was closed, or somebody said why it is run all the same: asked once */
  let gatesAsked = false
  let script: { driver: ScriptDriver; name: string; script: RunScript; state: ScriptState } | null = null
  let recording: (Recording & { journal: Journal }) | null = null
  /** recordings that are whole and could not be stored: kept until they are */
  const unstored: (Recording & { journal: Journal; bound: Bound; cut: Stop | null })[] = []
  let heardAt = clock.now()
  let latest: Pick<RigSample, 'rpm' | 'coolant'> | null = null
  let saving: Promise<unknown> = Promise.resolve()
  /** contents of the controller that the last run was made on; null until they were read */
  let inside: Inside | null = null
  const readInside = async (): Promise<Inside> => ({ tables: await link.tables(), ways: await link.ways() })

  const news = (): BenchNews => ({
    script: script && { name: script.name, state: script.state },
    recording: recording !== null,
    unstored: unstored.length,
    stopped,
    driver: driving.driver(),
    said,
    runs,
    limits: guard.limits(),
    aim: guard.aim(),
    // What comes as lines was worked out by whoever sends it.
    calibrated: link.readsOnly ? { throttle: true, wideband: true } : isCalibrated(link.sensors().calibration),
  })
  const tell = (text?: string): void => {
    if (text) said = text
    const now = news()
    for (const hear of hearers) hear({ news: now })
  }
  const rest = (): void => link.set({ throttle: 0, sparkOffset: 0, fuelOffset: 0, brake: { kind: 'off' }, gear: 0 })
  const needsRestFor = (then: string): void => {
    if (script || recording) throw refused('bench', `A run is under way. ${then}`, 'script')
  }
  const needsRest = (): void => needsRestFor('Let it end, or stop it.')
  /** °C; an engine that was not read yet counts as cold. */
  const coolant = (): number => latest?.coolant ?? -Infinity
  const log = (lines: readonly GateLine[]): Promise<void> =>
    store.act((transaction) => writeLines(store, transaction, job, lines))
  async function readAim(): Promise<void> {
    const found = await findJob(store, job)
    if (found) guard.read(found)
  }
  async function beginRun(client: string, next: RunScript | null, why?: string): Promise<void> {
    driving.needs(client)
    needsRest()
    await readAim()
    // Reading changes nothing: it is as with a log that was made elsewhere.
    const gates = gatesAsked || link.readsOnly ? [] : await gatesOf(store, job)
    const lines = passGate([...gates, ...(next ? scriptDangers(next, coolant(), guard.ceiling()) : [])], why)
    gatesAsked = true
    if (lines.length) await log(lines)
    driving.needs(client)
    needsRest()
    guard.begin()
  }

  /** Begins to record; what is recorded is written to its file from the first reading on. */
  function beginRecording(name: string, kind: RunKind | undefined): void {
    const head = boundTo(store, job, link, inside).then((bound) => ({ job, name, kind, bound }))
    recording = { samples: [], name, kind, journal: beginJournal(store, head) }
  }

  /** Puts away what was recorded as a run of the job; too little of it is no run. */
  async function putAway(cut: Stop | null): Promise<RunInfo | null> {
    const record = recording
    recording = null
    if (!record || record.samples.length < LEAST_SAMPLES[link.readsOnly ? 'lines' : 'rig']) {
      await record?.journal.drop()
      return null
    }
    inside = link.state().readable ? await readInside() : null
    unstored.push({ ...record, cut, bound: await boundTo(store, job, link, inside) })
    return (await storeKept())!
  }

  /** Stores what waits to be stored, the oldest first. @returns the last of it; null for nothing */
  async function storeKept(): Promise<RunInfo | null> {
    let run: RunInfo | null = null
    for (let next = unstored[0]; next; next = unstored[0]) {
      run = await storeRecorded(store, job, next, next.bound, next.cut)
      unstored.shift()
      runs++
      await next.journal.drop()
    }
    return run
  }
  /** Says what became of a run that could not be stored. */
  function tellUnstored(error: unknown): void {
    const why = isDiskFull(error) ? 'The disk is full' : 'It could not be stored'
    tell(
      `${why}: "${unstored.at(-1)?.name ?? 'the run'}" is kept here. Make room, then store it again; do not disconnect.`,
    )
  }

  async function end(stop: Stop | null): Promise<RunInfo | null> {
    const name = script?.name ?? recording?.name ?? ''
    script = null
    stopped = stop !== null
    rest()
    const before = unstored.length
    const put = putAway(stop)
    saving = put.catch(() => undefined)
    const run = await put.catch((error: unknown) => {
      tellUnstored(error)
      return null
    })
    if (unstored.length > before) return null
    if (stop) {
      await store.act((transaction) =>
        writeEntry(store, transaction, job, `bench stopped: ${stop.reason}`, `${name || 'by hand'}: ${stop.text}`),
      )
      tell(`Stopped, ${stop.reason}: ${stop.text}.${run ? ` What there is of "${run.name}" is kept.` : ''}`)
    } else if (run) tell(`"${run.name}" is in the job: ${run.samples} samples.`)
    else if (link.readsOnly) tell('Too few lines came for a run: nothing was kept.')
    else tell(name ? `${name} is done.` : 'Nothing was recorded.')
    return run
  }

  /** Tells a danger that nobody here can end: once, until another comes. */
  function warn({ reason, text }: Stop): void {
    const words = sentence(`${reason}: ${text}. Shut the throttle; this link only reads`)
    if (words !== said) tell(words)
  }
  let trouble = ''
  /** Tells what is wrong with a source of lines, and when it is well again. */
  function tellTrouble(): void {
    const now = link.lines?.().said ?? ''
    if (now === trouble) return
    trouble = now
    tell(now || 'Lines come.')
  }
  let shown = 0

  const unlisten = link.listen((sample) => {
    heardAt = clock.now()
    latest = sample
    for (const hear of hearers) hear({ sample })
    const busy = script !== null || recording !== null
    const danger = busy ? guard.see(sample) : null
    if (danger && link.readsOnly) warn(danger)
    else if (danger) return void end(danger).catch(() => undefined)
    if (script) {
      const { controls, state } = script.driver.next(sample)
      const before = script.state
      script.state = state
      link.set(controls)
      if (state.recording && !recording) beginRecording(script.name, kindOfScript(script.script) ?? undefined)
      if (state.phase === 'done') return void end(null).catch(() => undefined)
      if (state.note !== before.note) tell(sentence(`${script.name}: ${state.note}`))
      else if (state.phase !== before.phase) tell(`${script.name}: ${state.phase}.`)
      else if (Math.floor(state.share * STEPS) !== Math.floor(before.share * STEPS)) tell()
    }
    recording?.samples.push(sample)
    recording?.journal.add(sample)
  })
  const endGuard = clock.every(SILENCE / 4, () => {
    if (link.lines) {
      tellTrouble()
      // Columns that came to be known are news as well.
      const known = link.lines().columns.length
      if (known !== shown) tell()
      shown = known
    }
    if (clock.now() - heardAt < SILENCE) return
    heardAt = clock.now()
    if (script || recording)
      void end({ reason: 'link lost', text: 'the rig gives no readings any more' }).catch(() => undefined)
    else if (!link.lines) tell('The rig gives no readings. Check the link, or disconnect and connect again.')
  })

  return {
    id: randomUUID(),
    job,
    link,
    news,
    listen(hear) {
      hearers.add(hear)
      return () => hearers.delete(hear)
    },
    drive(client) {
      driving.take(client)
      tell('The wheel is taken.')
    },
    async letGo(client) {
      if (!driving.letGo(client)) return
      if (script || recording) await end({ reason: 'aborted', text: 'the driver went away' })
      else rest()
      tell('The wheel is free.')
    },
    needsNobodyElse: driving.needsNobodyElse,
    noteRefused: (refusal) => noteRefused(store, job, refusal),
    async set(client, controls, why) {
      driving.needs(client)
      if (script) throw refused('bench', 'A script drives. Stop it first.', 'script')
      const before = link.controls()
      const lines = passGate(controlDangers(before, { ...before, ...controls }, coolant()), why)
      // What was let pass is in the logbook before it acts.
      if (lines.length) await log(lines)
      link.set(controls)
    },
    async limit(client, change, why) {
      driving.needs(client)
      needsRestFor('Change its limits when it is over.')
      const lines = passGate(guard.loosened(change), why)
      if (lines.length) await log(lines)
      guard.change(change)
      tell('Limits are changed.')
    },
    readAim,
    async measured() {
      return (inside ??= await readInside())
    },
    latestRpm: () => latest?.rpm ?? 0,
    refresh: () => tell(),
    async run(client, next, name, why) {
      if (link.readsOnly)
        throw refused('bench', 'This link only reads: ride the machine, and record by hand.', 'script')
      await beginRun(client, next, why)
      script = {
        driver: scriptDriver(next),
        name: name ?? nameOfScript(next),
        script: next,
        state: { phase: 'starting', share: 0, recording: false, note: '' },
      }
      tell(`${script.name}: starting.`)
    },
    async record(client, why) {
      await beginRun(client, null, why)
      beginRecording(link.readsOnly ? 'Live' : 'By hand at the bench', undefined)
      tell('Recording.')
    },
    async stop(client, stop) {
      if (client !== null) driving.needs(client)
      if (!script && !recording) {
        rest()
        return null
      }
      // A recording by hand that its driver ends is whole.
      return end(stop.reason === 'aborted' && !script ? null : stop)
    },
    async storeAgain() {
      try {
        const run = await storeKept()
        if (run) tell(`"${run.name}" is in the job: ${run.samples} samples.`)
      } catch (error) {
        tellUnstored(error)
        throw error
      }
    },
    async settle() {
      if (script || recording) await end({ reason: 'aborted', text: 'the bench was disconnected' })
      await saving
      await storeKept()
    },
    async close() {
      endGuard()
      unlisten()
      link.close()
      // Whoever still watches is told that nothing more comes.
      for (const hear of hearers) hear({ end: true })
      hearers.clear()
    },
  }
}
