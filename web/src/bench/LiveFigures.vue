<script setup lang="ts">
import { computed } from 'vue'
import type { RigSample } from '@yuzumix/core'
import { grouped, plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** Figures large enough to read across the room. */
const props = defineProps<{ sample: RigSample | null; large?: boolean }>()
const display = useDisplay()

const figures = computed(() => {
  const s = props.sample
  const or = (text: () => string): string => (s ? text() : '–')
  return [
    { name: 'rpm', value: or(() => grouped(s!.rpm)), unit: '' },
    { name: 'throttle', value: or(() => plain(s!.throttle, 0)), unit: '%' },
    ...(s?.lambda ?? [NaN]).map((lambda, c, all) => ({
      name: all.length > 1 ? `cyl ${c + 1}` : 'mixture',
      value: or(() => display.mixture(lambda)),
      unit: display.mixtureUnit,
    })),
    { name: 'torque', value: or(() => display.figure('torque', s!.torque)), unit: display.torqueUnit },
    { name: 'coolant', value: or(() => plain(s!.coolant, 0)), unit: '°C', alarm: (s?.coolant ?? 0) > 105 },
    { name: 'battery', value: or(() => plain(s!.battery, 1)), unit: 'V', alarm: (s?.battery ?? 14) < 12.2 },
    { name: 'knock', value: or(() => plain(s!.knock, 1)), unit: '', alarm: (s?.knock ?? 0) > 2 },
  ]
})
</script>

<template>
  <dl class="figures-row" :class="{ across: large }">
    <div v-for="one in figures" :key="one.name" :class="{ alarm: one.alarm }">
      <dt>
        {{ one.name }}<span v-if="one.unit" class="figures">, {{ one.unit }}</span>
      </dt>
      <dd class="figures">{{ one.value }}</dd>
    </div>
  </dl>
</template>

<style scoped>
.figures-row {
  display: flex;
  gap: 8px;
  margin: 0;
  flex: none;
}
div {
  flex: 1 1 0;
  min-width: 0;
  padding: 4px 8px 6px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
  white-space: nowrap;
  overflow: hidden;
}
div:first-child {
  flex-grow: 1.5;
}
dt {
  color: var(--soft);
  font-size: 12px;
}
dd {
  margin: 0;
  font-size: 25px;
  font-weight: 700;
  line-height: 1.15;
}
/* Four in a row fill a screen across the room. */
.across {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
}
.across div {
  padding: 8px 16px 12px;
}
.across dt {
  font-size: 22px;
}
.across dd {
  font-size: 72px;
}
.alarm {
  border-color: var(--alarm);
}
.alarm dd {
  color: var(--alarm);
}
</style>
