import { onScopeDispose, ref, shallowRef } from 'vue'
import type { RigSample } from '@yuzumix/core'

/** s of readings that strip charts and trail look back on. */
export const LOOK_BACK = 20
/** ms without a reading after which the link is said to lag. */
const LAGS_AFTER = 400
/** ms between two showings: digits that change oftener are read by nobody, and drawing them takes a core. */
const SHOWN_EVERY = 40

/**
 * Readings of a rig as they are shown, some 25 times a second. None is left out of the charts, and nothing is drawn while none
 * comes.
 *
 * @param isOpen whether readings are to be expected: then silence is told
 */
export function shownReadings(isOpen: () => boolean) {
  /** the latest reading, as shown */
  const sample = shallowRef<RigSample | null>(null)
  /** readings of the last seconds, oldest first */
  const recent = shallowRef<RigSample[]>([])
  const lags = ref(false)
  const heard: RigSample[] = []
  let frame = 0
  let rest: ReturnType<typeof setTimeout> | undefined
  let isMore = false
  let silence: ReturnType<typeof setTimeout> | undefined

  function show(): void {
    ;[frame, isMore] = [0, false]
    rest = setTimeout(() => {
      rest = undefined
      if (isMore) askFrame()
    }, SHOWN_EVERY)
    sample.value = heard.at(-1) ?? null
    const from = heard.findIndex((one) => one.time > heard.at(-1)!.time - LOOK_BACK)
    if (from > 0) heard.splice(0, from)
    recent.value = [...heard]
  }
  const askFrame = (): void => void (frame ||= requestAnimationFrame(show))
  /** Shows nothing more of what was heard. */
  function still(): void {
    cancelAnimationFrame(frame)
    clearTimeout(rest)
    ;[frame, rest, isMore] = [0, undefined, false]
  }
  onScopeDispose(() => {
    still()
    clearTimeout(silence)
  })
  return {
    sample,
    recent,
    lags,
    still,
    add(samples: readonly RigSample[]): void {
      for (const one of samples) {
        // A rig that was connected anew begins its clock again.
        if (heard.length && one.time < heard.at(-1)!.time) heard.length = 0
        heard.push(one)
      }
      if (samples.length === 0) return
      isMore = true
      if (!rest) askFrame()
      lags.value = false
      clearTimeout(silence)
      silence = setTimeout(() => (lags.value = isOpen()), LAGS_AFTER)
    },
    clear: (): void => void (heard.length = 0),
  }
}
