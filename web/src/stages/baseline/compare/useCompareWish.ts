import { computed, ref, watch } from 'vue'
import { comparedOfRun, stopsOf, type CompareRequest, type Mismatch, type Quantity } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { readBands, readSpeeds, thirds } from './bandText'

/** What is to be compared: which sets, at which stop, of which quantity, over which bands. */
export function useCompareWish() {
  const open = useJob()
  const first = ref<string[]>(open.sets.length > 1 ? [open.sets.at(-2)!.id] : [])
  /** Sets compared with the first; the drawer explains the one looked at. */
  const seconds = ref<string[]>(open.sets.length ? [open.sets.at(-1)!.id] : [])
  const lookedAt = ref('')
  const second = computed(() => (seconds.value.includes(lookedAt.value) ? lookedAt.value : (seconds.value[0] ?? '')))
  const quantity = ref<Quantity>('torque')
  const accepted = ref<Mismatch['what'][]>([])
  const chosenStop = ref<number | 'all' | null | undefined>(undefined)
  const stops = computed(() =>
    stopsOf(
      open.runs.filter((run) => run.set === second.value),
      comparedOfRun,
    ),
  )
  const stop = computed(() => stops.value.find((one) => one.stop === chosenStop.value)?.stop ?? stops.value[0]?.stop)
  const span = computed(() => {
    const facts = stops.value.find((one) => one.stop === stop.value)?.runs.flatMap((run) => run.facts ?? []) ?? []
    if (facts.length === 0) return null
    return { from: Math.min(...facts.map((one) => one.fromRpm)), to: Math.max(...facts.map((one) => one.toRpm)) }
  })
  const bandsText = ref('')
  const atText = ref('')
  watch(
    span,
    (now) => {
      if (now && bandsText.value === '') bandsText.value = thirds(Math.max(2500, now.from), now.to - 300)
    },
    { immediate: true },
  )
  const bands = computed(() => readBands(bandsText.value))
  const speeds = computed(() => readSpeeds(atText.value))
  // What was accepted for two sets says nothing about two others.
  watch([first, seconds], () => (accepted.value = []))

  const wish = computed<CompareRequest | null>(() => {
    if (!second.value || first.value.length === 0 || stop.value === undefined) return null
    return {
      first: first.value,
      second: second.value,
      stop: stop.value,
      quantity: quantity.value,
      correction: open.job!.power.correction,
      smoothing: open.job!.power.smoothing,
      bands: typeof bands.value === 'string' ? [] : bands.value,
      at: typeof speeds.value === 'string' ? [] : speeds.value,
      accept: accepted.value,
    }
  })
  const wishes = computed(() => (wish.value ? seconds.value.map((id) => ({ ...wish.value!, second: id })) : []))
  return {
    first,
    seconds,
    lookedAt,
    second,
    quantity,
    accepted,
    chosenStop,
    stops,
    stop,
    span,
    bandsText,
    atText,
    bands,
    speeds,
    wishes,
  }
}
