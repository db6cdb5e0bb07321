<script setup lang="ts">
import { DEFAULT_LIMITS, type ChangeLimits } from '@yuzumix/core'
import LimitsForm from '@/parts/form/LimitsForm.vue'

/** How far one pass may move the fuel. */
const limits = defineModel<ChangeLimits>({ required: true })
const BOXES = [
  { key: 'richest', label: 'At most richer in one pass', unit: '%', least: 0, most: 100 },
  { key: 'leanest', label: 'At most leaner in one pass', unit: '%', least: 0, most: 50 },
  { key: 'leanestHighLoad', label: 'At most leaner at high load', unit: '%', least: 0, most: 50 },
  { key: 'highLoad', label: 'High load begins at', unit: '', least: 0, most: 400 },
  { key: 'least', label: 'Leave alone what is smaller than', unit: '%', least: 0, most: 10 },
  { key: 'widest', label: 'Leave alone what is less sure than ±', unit: '%', least: 0.5, most: 20 },
  { key: 'edge', label: 'Largest step at the edge of what is known (0: no taper)', unit: '%', least: 0, most: 20 },
] as const
const SWITCHES = [
  { key: 'bridge', label: 'Suggest for cells between readings' },
  { key: 'equal', label: 'One change for all rows from high load up' },
  { key: 'fill', label: 'Go on flat into cells beyond all readings' },
] as const
</script>

<template>
  <LimitsForm v-model="limits" :boxes="BOXES" :switches="SWITCHES" :step="0.5" :usual="DEFAULT_LIMITS">
    Lean and hot at high load, or knock, destroys pistons: stop the run. Never a large lean step at once; measure again
    after each pass. Support the battery while writing, and keep a copy of what was there first.
  </LimitsForm>
</template>
