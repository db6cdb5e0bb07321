<script setup lang="ts">
import { ElButton, ElSwitch } from 'element-plus'
import { DEFAULT_LIMITS, type ChangeLimits } from '@yuzumix/core'
import NumberBox from '@/parts/numbers/NumberBox.vue'

const limits = defineModel<ChangeLimits>({ required: true })
const FIELDS = [
  ['richest', 'At most richer in one pass', '%', 0, 100],
  ['leanest', 'At most leaner in one pass', '%', 0, 50],
  ['leanestHighLoad', 'At most leaner at high load', '%', 0, 50],
  ['highLoad', 'High load begins at', '', 0, 400],
  ['least', 'Leave alone what is smaller than', '%', 0, 10],
  ['widest', 'Leave alone what is less sure than ±', '%', 0.5, 20],
  ['edge', 'Largest step at the edge of what is known (0: no taper)', '%', 0, 20],
] as const
const SWITCHES = [
  ['bridge', 'Suggest for cells between readings'],
  ['equal', 'One change for all rows from high load up'],
  ['fill', 'Go on flat into cells beyond all readings'],
] as const
</script>

<template>
  <div class="panel">
    <label v-for="[key, label, unit, least, most] in FIELDS" :key="key">
      <span>{{ label }}</span>
      <NumberBox
        :model-value="limits[key]"
        :least="least"
        :most="most"
        :step="0.5"
        :name="label"
        @update:model-value="limits = { ...limits, [key]: $event }"
      />
      <span class="soft">{{ unit }}</span>
    </label>
    <label v-for="[key, label] in SWITCHES" :key="key">
      <span>{{ label }}</span>
      <ElSwitch
        :model-value="limits[key]"
        :aria-label="label"
        @update:model-value="limits = { ...limits, [key]: Boolean($event) }"
      />
    </label>
    <ElButton size="small" class="start" @click="limits = { ...DEFAULT_LIMITS }">Back to the usual limits</ElButton>
    <p class="caution">
      Lean and hot at high load, or knock, destroys pistons: stop the run. Never a large lean step at once; measure
      again after each pass. Support the battery while writing, and keep a copy of what was there first.
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
label {
  display: grid;
  grid-template-columns: 1fr auto 16px;
  gap: 8px;
  align-items: center;
}
.start {
  justify-self: start;
}
.caution {
  padding: 12px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
</style>
