import { computed, ref, shallowRef, watch } from 'vue'
import {
  complaintSpeeds,
  DEFAULT_RESPONSE,
  isLeftOut,
  type MadePlate,
  type PlateAsked,
  type Response,
  type ResponseChoice,
  type RunInfo,
  mayHaveLoop,
} from '@yuzumix/core'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import type { AskedRun } from '@/workers/columnStore'
import { responseWorker } from '@/workers/connect'
import { plainCopy, useRunWorker } from '@/workers/useRunWorker'

/** What of a job tells how the machine answers the hand: runs with a throttle or a grip. */
const tells = (run: RunInfo): boolean =>
  !isLeftOut(run) && run.channels.some((one) => one.channel === 'throttle' || one.channel === 'grip')

/** Everything the response stage knows: runs of the set looked at, and what they come to. */
export function useResponse(connect = responseWorker) {
  const open = useJob()
  const handling = useHandling()
  const response = shallowRef<Response | null>(null)
  /** another set to hold it against, as it was before; empty for none */
  const against = ref('')
  const earlier = shallowRef<Response | null>(null)
  /** riding mode looked at; null for the one most run in */
  const mode = ref<number | null>(null)
  const { run, askLatest, cancel, busy, slow, loaded, problem } = useRunWorker(connect, () => open.job!.id, 'response')
  const runsOf = (set: string | undefined): RunInfo[] => open.runs.filter((one) => one.set === set && tells(one))
  const runs = computed(() => runsOf(open.set?.id))
  const before = computed(() => (against.value && against.value !== open.set?.id ? runsOf(against.value) : []))
  const choice = computed<ResponseChoice>(() => {
    const { mixture, limits } = open.job!
    return {
      lag: mixture.lagMs === null ? null : mixture.lagMs / 1000,
      filters: { ...DEFAULT_RESPONSE.filters, ...mixture.filters, revCeiling: limits?.revCeiling ?? null },
      hasLoop: mayHaveLoop(open.job!),
      mode: mode.value,
      complaints: complaintSpeeds(handling.complaints),
      top: limits?.revCeiling ?? DEFAULT_RESPONSE.top,
    }
  })
  let asked: AskedRun[] = []

  watch(
    [runs, before, () => JSON.stringify(choice.value)],
    () =>
      run(async (at) => {
        asked = await at.send(runs.value)
        const found = await at.ask((worker) => worker.respond(asked, plainCopy(choice.value)))
        const old = before.value.length ? await at.send(before.value) : null
        const was = old && (await at.ask((worker) => worker.respond(old, plainCopy(choice.value))))
        ;[response.value, earlier.value] = [found, was]
      }),
    { immediate: true },
  )

  /** A plate table of a shape from the same runs. Rejects with the reason when it cannot be made. */
  const plate = (wish: Omit<PlateAsked, 'mode'>): Promise<MadePlate> =>
    askLatest((worker) => worker.plate(asked, plainCopy({ ...wish, mode: mode.value })))

  const working = { busy, slow, loaded, cancel }
  return { runs, response, earlier, against, mode, plate, problem, working }
}

export type ResponseState = ReturnType<typeof useResponse>
