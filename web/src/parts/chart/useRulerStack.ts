import { actOf } from '@/parts/keys/keymap'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Grid } from '@yuzumix/core'
import { RULER_MARGIN, rulerScale } from './rulerScale'

/** rpm that the hairline walks with a key. */
const STEP = 100

/**
 * What every stack on the one rpm ruler shares: its size, its scale, and the hairline that follows pointer or arrow keys.
 *
 * @param highest rpm that must lie on the ruler, where runs go beyond the table
 */
export function useRulerStack(grid: () => Grid, highest: () => number = () => 0) {
  const box = ref<HTMLElement>()
  const svg = ref<SVGSVGElement>()
  const { width, height } = useElementSize(box)
  const x = computed(() => rulerScale(grid(), width.value, highest()))
  /** px from the left; null while the hairline is nowhere */
  const pointer = ref<number | null>(null)
  const rpmUnder = computed(() => (pointer.value === null ? null : x.value.invert(pointer.value)))

  function follow(event: PointerEvent): void {
    const at = event.clientX - box.value!.getBoundingClientRect().left
    pointer.value = at >= RULER_MARGIN.left && at <= width.value - RULER_MARGIN.right ? at : null
  }
  function leave(): void {
    pointer.value = null
  }
  /** Moves the hairline with left and right; false when the key is another. */
  function walk(event: KeyboardEvent): boolean {
    if (event.altKey || event.ctrlKey || event.metaKey) return false
    if (actOf('curves', event) !== 'hairline') return false
    event.preventDefault()
    const [low, high] = x.value.domain() as [number, number]
    const now = rpmUnder.value ?? low
    const next = Math.round(now / STEP) * STEP + (event.key === 'ArrowRight' ? STEP : -STEP)
    pointer.value = x.value(Math.min(high, Math.max(low, next)))
    return true
  }
  return { box, svg, width, height, x, pointer, rpmUnder, follow, leave, walk }
}
