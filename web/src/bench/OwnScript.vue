<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import type { RunScript } from '@yuzumix/core'
import NumberBox from '@/parts/numbers/NumberBox.vue'

/** A single run beside the plan: hold, roll-on, spark step or sweep at a stop of one's own. */
const props = defineProps<{ gear: number; rate: number; redline: number; disabled: boolean }>()
const emit = defineEmits<{ run: [script: RunScript] }>()
type Kind = Exclude<RunScript['kind'], 'warm-up'>
const KINDS: Kind[] = ['sweep', 'hold', 'roll-on', 'spark step']
const kind = ref<Kind>('hold')
const stop = ref(40)
const fromRpm = ref(4000)
const toRpm = ref(8000)
const seconds = ref(8)
const from = ref(-6)
const to = ref(6)

/** Degrees from one setting to the next. */
const STEP = 2
const offsets = computed(() => {
  const [low, high] = [Math.min(from.value, to.value), Math.max(from.value, to.value)]
  return Array.from({ length: Math.floor((high - low) / STEP) + 1 }, (_, k) => low + k * STEP)
})
const script = computed<RunScript>(() => {
  const at = { gear: props.gear, stop: stop.value }
  switch (kind.value) {
    case 'sweep':
      return { kind: 'sweep', fromRpm: fromRpm.value, toRpm: toRpm.value, rate: props.rate, ...at }
    case 'hold':
      return { kind: 'hold', rpm: fromRpm.value, seconds: seconds.value, ...at }
    case 'roll-on':
      return { kind: 'roll-on', fromRpm: fromRpm.value, fromStop: 12, seconds: seconds.value, ...at }
    default:
      return { kind: 'spark step', rpm: fromRpm.value, offsets: offsets.value, seconds: seconds.value, ...at }
  }
})
const fields = computed(() => {
  const rpm = { least: 500, most: props.redline, step: 250 }
  return [
    { name: 'Stop', unit: '%', model: stop, least: 1, most: 100, step: 5 },
    { name: kind.value === 'sweep' || kind.value === 'roll-on' ? 'From' : 'At', unit: 'rpm', model: fromRpm, ...rpm },
    ...(kind.value === 'sweep' ? [{ name: 'To', unit: 'rpm', model: toRpm, ...rpm }] : []),
    ...(kind.value !== 'sweep'
      ? [
          {
            name: kind.value === 'spark step' ? 'Each' : 'For',
            unit: 's',
            model: seconds,
            least: 1,
            most: 60,
            step: 1,
          },
        ]
      : []),
    ...(kind.value === 'spark step'
      ? [
          { name: 'Advance added, from', unit: '°', model: from, least: -12, most: 12, step: 2 },
          { name: 'to', unit: '°', model: to, least: -12, most: 12, step: 2 },
        ]
      : []),
  ]
})
</script>

<template>
  <ElRadioGroup v-model="kind" size="small" aria-label="Kind of run">
    <ElRadioButton v-for="one in KINDS" :key="one" :value="one">{{ one }}</ElRadioButton>
  </ElRadioGroup>
  <div class="fields">
    <label v-for="one in fields" :key="one.name">
      <span>{{ one.name }}, {{ one.unit }}</span>
      <NumberBox
        v-model="one.model.value"
        :least="one.least"
        :most="one.most"
        :step="one.step"
        :name="`${one.name} of the run in ${one.unit}`"
      />
    </label>
  </div>
  <p v-if="kind === 'spark step'" class="soft">
    {{ offsets.length }} settings, {{ STEP }}° apart, the least advance first. It stops by itself at knock.
  </p>
  <ElButton size="small" class="run" :disabled="disabled" @click="emit('run', script)">Run this {{ kind }}</ElButton>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
}
label {
  display: grid;
  gap: 2px;
  font-size: 13px;
}
label :deep(.el-input-number) {
  width: 104px;
}
p {
  font-size: 12px;
}
.run {
  justify-self: start;
}
</style>
