import { useWebSocket } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import {
  isStanding,
  type BenchFaults,
  type BenchMessage,
  type BenchState,
  type ControllerWays,
  type BenchWish,
  type CalibrationStep,
  type Mapping,
  type RigControls,
  type RigSample,
  type RunScript,
  type SafetyLimits,
} from '@yuzumix/core'
import { api, apiAs, socketUrl } from '@/api/client'
import { shownReadings } from './shownReadings'
import { askReason, withReason } from '@/api/withReason'

/** What can be done to all of a controller. */
type Told = 'keep' | 'restore' | 'recover' | 'power-cycle'

/** ms of readings that come in one message: about a frame. */
const TOGETHER = 16
/** ms that an engine may take to come to rest before a write. */
const REST_WITHIN = 20_000
/** ms that a refusal stays in view. */
const SHOWN_FOR = 5000
/** Code with which the server closes the stream of a bench that is no more. */
const BENCH_GONE = 4000
/** How often a stream that was cut is taken up again, and ms between. */
const RETRIES = 30
const RETRY_AFTER = 1000

type News = NonNullable<BenchMessage['news']>

/** The bench of a job: its stream, its controls, its controller. Readings are shown some 25 times a second, and none is left out of the charts. */
export function useBench(job: string, onRun: () => void) {
  const state = shallowRef<BenchState | null>(null)
  const news = shallowRef<News | null>(null)
  const controls = shallowRef<RigControls | null>(null)
  const refused = ref('')
  const problem = ref('')
  const missing = ref(0)
  const connection = ref<'none' | 'opening' | 'open' | 'lost'>('none')
  const readings = shownReadings(() => connection.value === 'open')
  const { sample, recent, lags } = readings
  /** who one is on the stream: acts over HTTP say it, so that they are taken from who drives */
  let me: string | undefined
  const own = (): ReturnType<typeof apiAs> => apiAs(me)
  let runs = 0
  /** wishes that were said and not yet answered */
  let unanswered = 0
  let forget: ReturnType<typeof setTimeout> | undefined

  /** Does something to all of the controller. @param override why a large step is taken all the same */
  const tell = (what: Told, override?: string): Promise<BenchState> =>
    ({
      keep: () => own().keepBench(job),
      restore: () => own().restoreBench(job, { override }),
      recover: () => own().recoverBench(job),
      'power-cycle': () => own().cutPower(job),
    })[what]()

  const isDriving = computed(() => news.value?.you === true)
  const isBusy = computed(() => news.value?.script != null || news.value?.recording === true)
  const uncalibrated = computed(() => {
    const known = news.value?.calibrated
    return known ? [...(known.throttle ? [] : ['throttle']), ...(known.wideband ? [] : ['wideband'])] : []
  })
  const unkept = computed(() => state.value?.controller.unkept ?? [])

  function hear(message: BenchMessage): void {
    const samples = (message.samples ?? (message.sample ? [message.sample] : [])).map(withoutNulls)
    missing.value += message.left ?? 0
    readings.add(samples)
    if (message.controls) {
      unanswered = Math.max(0, unanswered - 1)
      // The answer to one press must not undo the presses after it.
      if (unanswered === 0) controls.value = message.controls
    }
    if (message.hello) me = message.hello.you
    if (message.asks) void askAgain(message.asks, message.refused ?? '')
    else if (message.refused) {
      refused.value = message.refused
      clearTimeout(forget)
      forget = setTimeout(() => (refused.value = ''), SHOWN_FOR)
    }
    if (message.news) {
      news.value = message.news
      if (message.news.runs > runs) onRun()
      runs = message.news.runs
    }
  }

  /** What can hurt is wished again with a reason, if there is one. */
  async function askAgain(wish: BenchWish, text: string): Promise<void> {
    const override = await askReason('This can hurt the engine', text)
    if (override !== null) say({ ...wish, override } as BenchWish)
  }

  const stream = useWebSocket<string>(socketUrl(`/jobs/${job}/bench/stream?together=${TOGETHER}`), {
    immediate: false,
    autoConnect: false,
    // A link that was cut is taken up again by itself; a server that is gone for good is not asked for ever.
    autoReconnect: { retries: RETRIES, delay: RETRY_AFTER },
    onConnected() {
      connection.value = 'open'
      unanswered = 0
    },
    onMessage: (_socket, event: MessageEvent<string>) => hear(JSON.parse(event.data) as BenchMessage),
    onDisconnected(_socket, { code }) {
      news.value = null
      if (code !== BENCH_GONE) {
        connection.value = state.value ? 'lost' : 'none'
        return
      }
      // It was let go, or another took its place: looked for once, and not called for as a link that was cut.
      stream.close()
      void join()
    },
  })
  function attach(): void {
    connection.value = 'opening'
    stream.open()
  }

  /** Looks whether a bench is connected, and joins its stream. */
  async function join(): Promise<void> {
    try {
      state.value = await api.bench(job)
      problem.value = ''
      if (state.value) attach()
      else connection.value = 'none'
    } catch (error) {
      state.value = null
      connection.value = 'none'
      problem.value = (error as Error).message
    }
  }
  /** @returns what went wrong; null for nothing */
  async function act(work: () => Promise<BenchState>): Promise<Error | null> {
    try {
      state.value = await work()
      ;[problem.value, refused.value] = ['', '']
      return null
    } catch (error) {
      problem.value = (error as Error).message
      // What the controller is like after a write that failed has to be seen.
      state.value = await api.bench(job).catch(() => state.value)
      return error as Error
    }
  }
  /** An act that may want a reason; leaving it leaves everything as it is. */
  const asked = (work: (why?: string) => Promise<BenchState>): Promise<Error | null> =>
    act(async () => {
      const now = await withReason(work)
      if (!now) throw new Error('Left as it is: nothing was written.')
      return now
    })
  const isTurning = (): boolean => !isStanding(sample.value?.rpm ?? 0)
  /** Who drives stops the engine before a write: it stands still for every one. @throws Error when it does not come to rest */
  async function comeToRest(): Promise<void> {
    set({ throttle: 0, ignition: false, fuel: false })
    for (const until = performance.now() + REST_WITHIN; isTurning();) {
      if (performance.now() > until)
        throw new Error('The engine does not come to rest. Stop it by hand, then write again.')
      await new Promise((done) => setTimeout(done, 100))
    }
  }
  const atRest = (work: (why?: string) => Promise<BenchState>): Promise<Error | null> =>
    asked(async (why) => {
      if (isDriving.value && isTurning()) await comeToRest()
      return work(why)
    })
  /** Shown at once, so that keys pressed fast add up; the answer says what it came to. */
  function set(change: Partial<RigControls>): void {
    if (controls.value) controls.value = { ...controls.value, ...change }
    say({ act: 'set', controls: change })
  }
  const say = (wish: BenchWish): void => {
    refused.value = ''
    if (stream.status.value !== 'OPEN') {
      refused.value = 'Not done: there is no link to the bench at this moment. Press again once it is there.'
      return
    }
    unanswered++
    stream.send(JSON.stringify(wish), false)
  }

  onScopeDispose(() => clearTimeout(forget))
  return {
    state,
    news,
    controls,
    sample,
    recent,
    refused,
    problem,
    missing,
    lags,
    connection,
    isDriving,
    isBusy,
    unkept,
    uncalibrated,
    join,
    /** Connects by whatever way the caller has. */
    async connect(way: () => Promise<BenchState>) {
      await act(way)
      readings.clear()
      if (state.value) attach()
    },
    /** Connects a source of live lines anew, its columns taken as they are said to be. */
    async remap(mapping: Mapping) {
      const { source, baud } = state.value!.lines!
      // Until the stream of what took its place is open, a wish would reach a bench that is no more.
      connection.value = 'opening'
      const failed = await act(() =>
        own().connectBench(job, { maker: 'lines', source, ...(baud !== null && { baud }), mapping }),
      )
      if (failed && stream.status.value === 'OPEN') connection.value = 'open'
      readings.clear()
    },
    async disconnect() {
      stream.close()
      readings.still()
      await own()
        .disconnectBench(job)
        .catch((error: Error) => (problem.value = error.message))
      ;[state.value, news.value, sample.value, connection.value] = [null, null, null, 'none']
    },
    drive: () => say({ act: 'drive' }),
    letGo: () => say({ act: 'let go' }),
    set,
    limit: (limits: Partial<SafetyLimits>) => say({ act: 'limits', limits }),
    calibrate: (step: CalibrationStep) => act(() => own().calibrateBench(job, step)),
    /** Looks at it anew, after somebody else did something to it. */
    look: async () => void (state.value = await api.bench(job).catch(() => state.value)),
    /** Fetches the state anew, such as what the sensors read. */
    refresh: () => act(async () => (await api.bench(job))!),
    run: (script: RunScript) => say({ act: 'run', script }),
    record: () => say({ act: 'record' }),
    stop: () => say({ act: 'stop' }),
    storeAgain: () => say({ act: 'store again' }),
    /** Writes a table; why a large step is taken is asked. @returns what went wrong, or that it was left; null for nothing */
    write: (table: string, values: number[][]) =>
      atRest((why) => own().writeBench(job, table, { values, override: why })),
    faults: (faults: BenchFaults) =>
      own()
        .benchFaults(job, faults)
        .catch((error: Error) => (problem.value = error.message)),
    /** As `write`, for a setting beside the tables. */
    writeWay: (kind: keyof ControllerWays, settings: object) =>
      atRest((why) => own().writeWay(job, kind, { settings, override: why })),
    /** As `write`, for what is done to all of the controller. */
    tell: (what: Told) => (what === 'power-cycle' ? asked : atRest)((why) => tell(what, why)),
    isTurning,
    rest: comeToRest,
    who: () => me,
  }
}

/** Readings that a source does not tell are no numbers; in JSON they are null. */
function withoutNulls(sample: RigSample): RigSample {
  const known = Object.entries(sample).map(([name, value]: [string, unknown]) => [name, value ?? NaN])
  return { ...(Object.fromEntries(known) as RigSample), lambda: sample.lambda.map((one) => one ?? NaN) }
}

export type Bench = ReturnType<typeof useBench>
