import { computed, ref, shallowRef, watch } from 'vue'
import {
  DEFAULT_CURVE,
  DEFAULT_SPARK_SETTINGS,
  isLeftOut,
  proveSpark,
  type JudgedBin,
  type RunInfo,
  type SparkProof,
  type SparkSettings,
  type TableHistory,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import { sparkWorker } from '@/workers/connect'
import type { AskedSparkRun, FittedMixture, SparkQuestion, SparkWorker } from '@/workers/spark.worker'
import { useRunWorker, type Work } from '@/workers/useRunWorker'

const has = (run: RunInfo, channel: string): boolean => run.channels.some((one) => one.channel === channel)
const tellsTorque = (run: RunInfo): boolean => ['torque', 'power', 'drum'].some((name) => has(run, name))

/** Brings runs to the worker, with what is known of their settings. */
async function sent({ send }: Work<SparkWorker>, runs: readonly RunInfo[]): Promise<AskedSparkRun[]> {
  return (await send(runs)).map((asked, k) => {
    const { id, kind, facts, setting, createdAt } = runs[k]!
    return { ...asked, run: { id, kind, facts, setting, createdAt } }
  })
}

/** Everything the spark stage knows: runs of the set looked at, what they come to, and what was chosen. */
export function useSpark(connect = sparkWorker) {
  const open = useJob()
  const bins = shallowRef<JudgedBin[]>([])
  const mixtures = shallowRef<FittedMixture[]>([])
  const proof = shallowRef<SparkProof[]>([])
  const histories = shallowRef<TableHistory[]>([])
  const { run, cancel, busy, slow, problem } = useRunWorker(connect, () => open.job!.id, 'spark')

  const settings = ref<SparkSettings>(open.job!.spark ?? DEFAULT_SPARK_SETTINGS)
  /** Takes choices now; they are saved when they have come to rest. */
  function choose(change: Partial<SparkSettings>): void {
    settings.value = { ...settings.value, ...change }
    open.choose({ spark: settings.value })
  }

  const spark = computed(() => open.tables.filter((one) => one.table.kind.startsWith('spark')))
  const usable = computed(() => open.runs.filter((run) => !isLeftOut(run) && tellsTorque(run)))
  const runs = computed<RunInfo[]>(() =>
    usable.value.filter((run) => run.set === open.set?.id && (has(run, 'spark') || run.setting !== null)),
  )
  const mixtureRuns = computed(() =>
    usable.value.filter((run) => run.set === open.set?.id && has(run, 'lambda1') && run.kind === 'mixture step'),
  )
  /** The latest save of a spark table that rests on runs, and readings made after it. */
  const revision = computed(() =>
    spark.value
      .flatMap((one) => one.revisions.slice(1).filter((revision) => revision.runs.length > 0))
      .sort((a, b) => (a.createdAt < b.createdAt ? -1 : 1))
      .at(-1),
  )
  const before = computed(() => usable.value.filter((run) => revision.value?.runs.includes(run.id)))
  const after = computed(() =>
    usable.value.filter((run) => revision.value && run.createdAt > revision.value.createdAt && has(run, 'spark')),
  )
  const question = (): Omit<SparkQuestion, 'runs'> => ({
    options: {
      ...DEFAULT_CURVE,
      smoothing: open.job!.power.smoothing,
      drum: { inertia: open.set?.inertia ?? null, window: open.set?.drumWindow ?? 0.4 },
      source: open.set?.torqueSource ?? null,
    },
    judge: { giveAway: settings.value.giveAwayPct / 100, knockMargin: settings.value.knockMargin },
    present: settings.value.present,
    knockLevel: settings.value.knockLevel,
    // Plain again: what is reactive does not go to a worker.
    histories: histories.value,
  })

  watch(
    [
      runs,
      mixtureRuns,
      after,
      () => open.tables,
      () => settings.value.giveAwayPct,
      () => settings.value.knockMargin,
      () => settings.value.present,
      () => settings.value.knockLevel,
    ],
    () =>
      run(async (at) => {
        const oldest = [...runs.value, ...before.value].map((one) => one.createdAt).sort()[0]
        if (oldest) histories.value = await at.wait(api.histories(open.job!.id, oldest))
        const asked = await sent(at, runs.value)
        const found = await at.ask((worker) => worker.judged({ runs: asked, ...question() }))
        const { knockLevel } = settings.value
        const mixed = await sent(at, mixtureRuns.value)
        const stepped = await at.ask((worker) => worker.mixtures(mixed, knockLevel))
        const proved = await prove(at)
        ;[bins.value, mixtures.value, proof.value] = [found, stepped, proved]
      }),
    { immediate: true },
  )
  async function prove(at: Work<SparkWorker>): Promise<SparkProof[]> {
    if (before.value.length === 0 || after.value.length === 0) return []
    const old = await sent(at, before.value)
    const was = await at.ask((worker) => worker.judged({ runs: old, ...question(), histories: [] }))
    const now = await sent(at, after.value)
    return proveSpark(was, await at.ask((worker) => worker.present(now)))
  }
  return { settings, choose, bins, mixtures, runs, proof, sparkTables: spark, problem, busy, slow, cancel }
}

export type Spark = ReturnType<typeof useSpark>
