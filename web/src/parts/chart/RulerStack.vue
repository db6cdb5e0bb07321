<script setup lang="ts">
import { computed } from 'vue'
import { grouped } from '@/parts/numbers/format'
import RulerHairline from './RulerHairline.vue'
import RulerSpanNames from './RulerSpanNames.vue'
import RulerSpans, { type RulerSpan } from './RulerSpans.vue'
import type { useRulerStack } from './useRulerStack'

/** A stack of charts over the one rpm ruler: spans behind it, its charts, the spans' names, and the hairline over all. */
const props = defineProps<{
  stack: ReturnType<typeof useRulerStack>
  /** what it is and which keys move in it, for those who cannot see it */
  label: string
  spans: RulerSpan[]
  /** px down to which spans are drawn, and at which their names stand */
  spansTo: number
  namesAt: number
  /** px from the left of a hairline where no pointer is */
  resting?: number | null
  /** what stands behind the engine speed at the hairline */
  under?: string
}>()
const emit = defineEmits<{ key: [event: KeyboardEvent] }>()
const { box, svg, width, height, x, pointer, rpmUnder, follow, leave } = props.stack
// The same functions at every rendering: another one each time would leave the stack without its box in between.
const takeBox = (element: unknown): void => void (box.value = (element as HTMLElement | null) ?? undefined)
const takeSvg = (element: unknown): void => void (svg.value = (element as SVGSVGElement | null) ?? undefined)
const at = computed(() => pointer.value ?? props.resting ?? null)
const text = computed(() =>
  rpmUnder.value === null ? '' : `${grouped(rpmUnder.value)} rpm${props.under ? ` · ${props.under}` : ''}`,
)
</script>

<template>
  <div
    :ref="takeBox"
    class="stack ruler-stack"
    tabindex="0"
    role="application"
    :aria-label="label"
    @keydown="emit('key', $event)"
    @pointermove="follow"
    @pointerleave="leave"
  >
    <svg v-if="width > 100" :ref="takeSvg" :width="width" :height="height" aria-hidden="true">
      <RulerSpans :spans="spans" :x="x" :bottom="spansTo" />
      <slot />
      <RulerSpanNames :spans="spans" :x="x" :text-at="namesAt" />
      <RulerHairline v-if="at !== null" :at="at" :width="width" :height="height" :text="text" />
    </svg>
  </div>
</template>
