import { shallowRef, watch, type Ref } from 'vue'
import type { CurveOptions, Overlay, RunInfo, Stop, HeldChoice } from '@yuzumix/core'
import { runsWorker } from './connect'
import type { HeldSpan } from './runs.worker'
import { plainCopy, useRunWorker } from './useRunWorker'

/** Stops to lay over each other, and how. */
export interface OverlayWish {
  stops: Stop<RunInfo>[]
  options: CurveOptions
  factor: number
  /** runs in which held zones are sought */
  heldIn: RunInfo[]
  held: HeldChoice | null
}

/** The overlays of a wish, worked out anew whenever it changes; only the latest wish counts. */
export function useOverlay(job: () => string, wish: Ref<OverlayWish | null>, connect = runsWorker) {
  const overlays = shallowRef<(Overlay | null)[]>([])
  /** null while it is not known */
  const held = shallowRef<HeldSpan[] | null>(null)
  const work = useRunWorker(connect, job, 'curves')
  let heldFor = ''

  watch(
    wish,
    (now) =>
      work.run(async ({ send, ask }) => {
        if (!now) {
          overlays.value = []
          return
        }
        const key = JSON.stringify([now.heldIn, now.held])
        // Zones of other runs say nothing of these.
        if (key !== heldFor) [held.value, heldFor] = [null, '']
        await send(now.stops.flatMap((one) => one.runs))
        const stops = plainCopy(now.stops.map(({ stop, runs }) => ({ stop, runs })))
        overlays.value = await ask((worker) => worker.overlays(stops, now.options, now.factor))
        const choice = now.held
        if (!choice || key === heldFor) return
        await send(now.heldIn)
        const heldIn = plainCopy(now.heldIn)
        held.value = await ask((worker) => worker.held(heldIn, choice))
        heldFor = key
      }),
    { immediate: true },
  )
  const cancel = (): void => work.cancel('Stopped. Choose a throttle stop or a set to begin anew.')
  const { problem, slow, loaded } = work
  return { overlays, held, problem, slow, loaded, cancel }
}
