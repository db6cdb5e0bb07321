<script setup lang="ts">
import { computed } from 'vue'
import { grouped } from '@/parts/numbers/format'
import { RULER_MARGIN, type RulerScale } from './rulerScale'

/** Held zones on the ruler, a thin row for each stop; the number stands where the loop lets go. */
const props = defineProps<{
  /** null while it is not known */
  zones: { load: number; fromRpm: number; toRpm: number }[] | null
  unit: string
  x: RulerScale
  width: number
  top: number
  height: number
}>()
const ROW = 15
const known = computed(() => props.zones ?? [])
const loads = computed(() => [...new Set(known.value.map((zone) => Math.round(zone.load)))].sort((a, b) => b - a))
const shown = computed(() => loads.value.slice(0, Math.max(1, Math.floor((props.height - 18) / ROW))))
const rowOf = (load: number): number => props.top + 18 + shown.value.indexOf(Math.round(load)) * ROW
</script>

<template>
  <g class="held">
    <text :x="RULER_MARGIN.left + 4" :y="top + 12" class="title">Held by closed loop</text>
    <text v-if="known.length === 0" :x="width - RULER_MARGIN.right" :y="top + 12" text-anchor="end" class="note">
      {{ zones ? 'no held zone found' : 'not known yet' }}
    </text>
    <text v-else :x="width - RULER_MARGIN.right" :y="top + 12" text-anchor="end" class="note">
      lets go at the rpm written{{ shown.length < loads.length ? ` · ${loads.length - shown.length} more stops` : '' }}
    </text>
    <g v-for="load in shown" :key="load">
      <text :x="RULER_MARGIN.left - 8" :y="rowOf(load) + 10" text-anchor="end" class="tick">{{ load }} {{ unit }}</text>
      <g v-for="zone in known.filter((one) => Math.round(one.load) === load)" :key="zone.fromRpm">
        <rect
          :x="x(zone.fromRpm)"
          :y="rowOf(load)"
          :width="Math.max(3, x(zone.toRpm) - x(zone.fromRpm))"
          :height="ROW - 4"
          rx="2"
        />
        <text :x="x(zone.toRpm) + 4" :y="rowOf(load) + 10" class="tick">{{ grouped(zone.toRpm) }}</text>
      </g>
    </g>
  </g>
</template>

<style scoped>
.title {
  font-size: 12px;
  font-weight: 700;
  fill: var(--ink);
}
.note {
  font-size: 12px;
  fill: var(--soft);
}
.tick {
  font: 11.5px var(--figures);
  fill: var(--soft);
}
rect {
  fill: var(--soft);
  opacity: 0.35;
}
</style>
