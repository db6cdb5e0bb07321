<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import { isStepped, type RunScript } from '@yuzumix/core'
import NumberBox from '@/parts/numbers/NumberBox.vue'

/** A single run beside the plan: hold, roll-on, spark or mixture step, or sweep at a stop of one's own. */
const props = defineProps<{ gear: number; rate: number; redline: number; disabled: boolean }>()
const emit = defineEmits<{ run: [script: RunScript] }>()
type Kind = Exclude<RunScript['kind'], 'warm-up'>
const KINDS: Kind[] = ['sweep', 'hold', 'roll-on', 'overrun', 'spark step', 'mixture step']
const kind = ref<Kind>('hold')
const stop = ref(40)
const fromRpm = ref(4000)
const toRpm = ref(8000)
const fromStop = ref(5)
const seconds = ref(8)
/** Span and step of what is added: degrees of advance, or percent of fuel. */
const spark = { from: ref(-6), to: ref(6), step: 2, most: 12, unit: '°' }
const fuel = { from: ref(-6), to: ref(12), step: 3, most: 30, unit: '%' }
const added = computed(() => (kind.value === 'mixture step' ? fuel : spark))
/** Now first and last; between, from the safe end: least advance, or most fuel. */
const offsets = computed(() => {
  const { from, to, step } = added.value
  const [low, high] = [Math.min(from.value, to.value), Math.max(from.value, to.value)]
  const rising = Array.from({ length: Math.floor((high - low) / step) + 1 }, (_, k) => low + k * step)
  const ordered = kind.value === 'mixture step' ? rising.reverse() : rising
  return [0, ...ordered.filter((one) => one !== 0), 0]
})
const script = computed<RunScript>(() => {
  const at = { gear: props.gear, stop: stop.value }
  switch (kind.value) {
    case 'sweep':
      return { kind: 'sweep', fromRpm: fromRpm.value, toRpm: toRpm.value, rate: props.rate, ...at }
    case 'hold':
      return { kind: 'hold', rpm: fromRpm.value, seconds: seconds.value, ...at }
    case 'roll-on':
      return { kind: 'roll-on', fromRpm: fromRpm.value, fromStop: fromStop.value, seconds: seconds.value, ...at }
    case 'overrun':
      return { kind: 'overrun', fromRpm: fromRpm.value, shutSeconds: 1, seconds: seconds.value, ...at }
    default:
      return { kind: kind.value, rpm: fromRpm.value, offsets: offsets.value, seconds: seconds.value, ...at }
  }
})
const fields = computed(() => {
  const rpm = { least: 500, most: props.redline, step: 250 }
  return [
    ...(kind.value === 'roll-on'
      ? [{ name: 'Opened from', unit: '%', model: fromStop, least: 1, most: 90, step: 1 }]
      : []),
    { name: 'Stop', unit: '%', model: stop, least: 1, most: 100, step: 5 },
    { name: ['sweep', 'roll-on', 'overrun'].includes(kind.value) ? 'From' : 'At', unit: 'rpm', model: fromRpm, ...rpm },
    ...(kind.value === 'sweep' ? [{ name: 'To', unit: 'rpm', model: toRpm, ...rpm }] : []),
    ...(kind.value !== 'sweep'
      ? [
          {
            name: isStepped(kind.value) ? 'Each' : 'For',
            unit: 's',
            model: seconds,
            least: 1,
            most: 60,
            step: 1,
          },
        ]
      : []),
    ...(isStepped(kind.value)
      ? (['from', 'to'] as const).map((end) => ({
          name: end === 'from' ? `${kind.value === 'spark step' ? 'Advance' : 'Fuel'} added, from` : 'to',
          unit: added.value.unit,
          model: added.value[end],
          least: -added.value.most,
          most: added.value.most,
          step: added.value.step,
        }))
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
  <p v-if="isStepped(kind)" class="soft">
    {{ offsets.length }} settings, {{ added.step }} {{ added.unit }} apart; what is there now first and last,
    {{ kind === 'spark step' ? 'the least advance' : 'the most fuel' }} next. What lies beyond knock{{
      kind === 'spark step' ? ' or falling torque' : ''
    }}
    is left out.
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
label :deep(.number-input) {
  width: 104px;
}
p {
  font-size: 12px;
}
.run {
  justify-self: start;
}
</style>
