<script setup lang="ts">
import { computed } from 'vue'
import { torqueAt, type JudgedBin } from '@yuzumix/core'
import FitChart from '@/parts/chart/FitChart.vue'
import { plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** Torque over advance in one bin: readings, the fitted curve, the best with its interval, what is there and what is advised. */
const props = defineProps<{ one: JudgedBin }>()
const display = useDisplay()
const marks = computed(() => {
  const { bin, fit, stale } = props.one
  return [
    { x: bin.present, text: 'now', look: 'present' as const },
    ...(fit.recommended === null || stale ? [] : [{ x: fit.recommended, text: 'advised', look: 'advised' as const }]),
    ...(bin.knockFrom === null ? [] : [{ x: bin.knockFrom, text: 'knock, given up', look: 'alarm' as const }]),
  ]
})
const what = computed(() => (props.one.bin.isStatic ? 'setting, ° on the plate' : 'advance, ° before top dead centre'))
</script>

<template>
  <FitChart
    :title="`Torque, ${display.torqueUnit}, over ${what}`"
    :points="one.bin.points.map(({ advance, torque, knock }) => ({ x: advance, y: torque, isAlarm: knock }))"
    :curve="one.fit.curve && ((x) => torqueAt(one.fit.curve!, x))"
    :interval="one.fit.best"
    :marks="marks"
    alarm="knock"
    :margin="3"
    :x-text="(value) => plain(value, 0)"
    :y-text="(value) => display.figure('torque', value)"
  />
</template>
