<script setup lang="ts">
import { computed } from 'vue'
import {
  alarmsOf,
  channelKind,
  channelTitle,
  LEAST_BATTERY,
  type LeanAim,
  type RigSample,
  type SafetyLimits,
} from '@yuzumix/core'
import { grouped, plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** Figures large enough to read across the room. */
const props = defineProps<{
  sample: RigSample | null
  /** what stops a run: the very limits make a figure an alarm; null while they are not known */
  stops: { limits: SafetyLimits; aim: LeanAim } | null
  large?: boolean
}>()
const display = useDisplay()

/** What a source of lines tells besides: road speed and exhaust temperatures first. */
const FIRST = ['speed', 'exhaust1', 'exhaust2', 'oil', 'head']
const extras = computed(() => {
  const others = props.sample?.others ?? {}
  return FIRST.filter((channel) => channel in others)
    .slice(0, 3)
    .map((channel) => ({
      name: channelTitle(channel).toLowerCase(),
      value: plain(others[channel]!, 0),
      unit: channelKind(channel)!.unit,
    }))
})

interface Figure {
  name: string
  value: string
  unit: string
  alarm?: boolean | undefined
  /** what it stands on; not a number where the source does not tell it */
  tells?: number | undefined
}
const figures = computed<Figure[]>(() => {
  const s = props.sample
  const alarms = s && props.stops ? alarmsOf(props.stops.limits, props.stops.aim, s) : null
  const or = (text: () => string): string => (s ? text() : '–')
  return [
    { name: 'rpm', value: or(() => grouped(s!.rpm)), unit: '', alarm: alarms?.rpm },
    { name: s?.grip === undefined ? 'throttle' : 'plate', value: or(() => plain(s!.throttle, 0)), unit: '%' },
    ...(s?.grip === undefined ? [] : [{ name: 'grip', value: plain(s.grip, 0), unit: '%' }]),
    ...(s?.lambda ?? [NaN]).map((lambda, c, all) => ({
      name: all.length > 1 ? `cyl ${c + 1}` : 'mixture',
      value: or(() => display.mixture(lambda)),
      unit: display.mixtureUnit,
      alarm: alarms?.lean[c],
    })),
    ...extras.value,
    {
      name: 'torque',
      tells: s?.torque,
      value: or(() => display.figure('torque', s!.torque)),
      unit: display.torqueUnit,
    },
    { name: 'coolant', tells: s?.coolant, value: or(() => plain(s!.coolant, 0)), unit: '°C', alarm: alarms?.coolant },
    {
      name: 'battery',
      tells: s?.battery,
      value: or(() => plain(s!.battery, 1)),
      unit: 'V',
      alarm: s !== null && s.battery < LEAST_BATTERY,
    },
    { name: 'knock', tells: s?.knock, value: or(() => plain(s!.knock, 1)), unit: '', alarm: alarms?.knock },
    // What a source does not tell takes no room.
  ].filter(({ tells }: Figure) => tells === undefined || !Number.isNaN(tells))
})
</script>

<template>
  <dl class="figures-row" :class="{ across: large }">
    <div v-for="one in figures" :key="one.name" :class="{ alarm: one.alarm }">
      <dt>{{ one.name }}<span v-if="one.unit" class="figures">, {{ one.unit }}</span></dt>
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
  font-size: clamp(20px, 2vw, 25px);
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
/* On a phone a figure is whole before it is large. */
@media (max-width: 700px) {
  .figures-row {
    display: grid;
    grid-template-columns: repeat(4, 1fr);
  }
  .figures-row.across {
    grid-template-columns: repeat(2, 1fr);
  }
  div:first-child {
    flex-grow: 1;
  }
  .across div {
    padding: 4px 8px;
  }
  .across dt {
    font-size: 14px;
  }
  .across dd {
    font-size: 44px;
  }
}
.alarm {
  border-color: var(--alarm);
}
.alarm dd {
  color: var(--alarm);
}
</style>
