<script setup lang="ts">
import { computed } from 'vue'
import type { Gain, Hole, Mismatch } from '@yuzumix/core'
import type { ComparedAnswer } from '@/api/client'
import { grouped, plain, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

const props = defineProps<{ compared: ComparedAnswer; stop: string }>()
const display = useDisplay()
const quantity = computed(() => props.compared.quantity)

/** What there is to say, in a sentence. */
const said = computed(() => {
  const { comparison, second, first } = props.compared
  if (comparison.note) return comparison.note
  const real = comparison.rpm.filter((_, k) => comparison.real[k])
  if (real.length === 0)
    return `No difference between "${first.name}" and "${second.name}" stands out of the spread of their runs.`
  const up = comparison.rpm.filter((_, k) => comparison.real[k] && comparison.difference[k]! > 0)
  const down = comparison.rpm.filter((_, k) => comparison.real[k] && comparison.difference[k]! < 0)
  const more = quantity.value === 'lambda' ? 'leaner' : 'above'
  const less = quantity.value === 'lambda' ? 'richer' : 'below'
  return [
    up.length ? `"${second.name}" is really ${more} ${spans(up)}.` : '',
    down.length ? `It is really ${less} ${spans(down)}.` : '',
  ].join(' ')
})
/** Stretches of neighbouring bins: "from 6 400 to 9 200 rpm and ...". */
function spans(rpm: readonly number[]): string {
  const { step } = props.compared.ruler
  const found: [number, number][] = []
  for (const at of rpm) {
    const last = found.at(-1)
    if (last && at - last[1] <= step * 1.5) last[1] = at
    else found.push([at, at])
  }
  const wide = found.filter(([from, to]) => to - from >= 2 * step)
  const shown = (wide.length ? wide : found).slice(0, 3)
  return `${shown.map(([from, to]) => `from ${grouped(from)} to ${grouped(to)}`).join(' and ')} rpm${found.length > shown.length ? ' and in places' : ''}`
}

function name({ what, band, rpm }: Gain): string {
  if (what === 'peak') return `Peak @ ${grouped(rpm![0])} → ${grouped(rpm![1])}`
  if (what === 'at an rpm') return `At ${grouped(rpm![0])} rpm`
  const span = `${grouped(band!.fromRpm)} to ${grouped(band!.toRpm)}`
  return what === 'mean over a band' ? `Mean ${span}` : `Area ${span}`
}
const unit = (gain: Gain): string =>
  gain.what === 'area over a band' ? `${display.unitOf(quantity.value)}·krpm` : display.unitOf(quantity.value)

function holeText(hole: Hole): string {
  const span = `${grouped(hole.fromRpm)} to ${grouped(hole.toRpm)} rpm, ${plain(hole.depthPct, 1)} % deep at ${grouped(hole.deepestRpm)}`
  const { verdict, mixturePct } = hole
  if (verdict === 'lean' || verdict === 'rich')
    return `Hole ${span}: the mixture is ${verdict} there (${signed(mixturePct!)} % of fuel needed). Correct it first.`
  return verdict === 'mixture on target'
    ? `Hole ${span}: the mixture is on target there, so it is not fuel.`
    : `Hole ${span}: the mixture is not known there.`
}
const sides = computed(() => [props.compared.first, props.compared.second])
const noted = computed<Mismatch[]>(() => props.compared.mismatches)
</script>

<template>
  <div class="panel">
    <h2>{{ stop }}</h2>
    <p class="said">{{ said }}</p>
    <p v-for="one in noted" :key="one.message" class="note" role="note">{{ one.message }}</p>
    <table>
      <thead>
        <tr>
          <th scope="col">Gain</th>
          <th scope="col" class="right">before</th>
          <th scope="col" class="right">after</th>
          <th scope="col" class="right">difference</th>
          <th scope="col" class="right">%</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="gain in compared.gains" :key="name(gain)">
          <td>
            {{ name(gain) }} <span class="soft">{{ unit(gain) }}</span>
          </td>
          <td class="right figures">{{ display.figure(quantity, gain.first) }}</td>
          <td class="right figures">{{ display.figure(quantity, gain.second) }}</td>
          <td class="right figures">
            {{ display.difference(quantity, gain.difference) }}
            <template v-if="gain.low !== null && gain.high !== null"
              ><br /><span class="soft"
                >{{ display.difference(quantity, gain.low) }} to {{ display.difference(quantity, gain.high) }}</span
              ></template
            >
          </td>
          <td class="right figures">{{ gain.percent === null ? '' : signed(gain.percent) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="compared.gainBegins !== null && quantity !== 'lambda'">
      The gain begins at <span class="figures">{{ grouped(compared.gainBegins) }} rpm</span>.
    </p>
    <template v-for="side in sides" :key="side.name">
      <h3>{{ side.name }}</h3>
      <p class="soft">
        {{ side.runs }} runs{{ side.warmUps ? ` (${side.warmUps} warm-up kept out)` : '' }} ·
        {{ quantity === 'lambda' ? 'mixture is not corrected' : side.correction }}
        <template v-if="side.conditions">
          · {{ side.conditions.rig || 'rig not said' }} · gear {{ side.conditions.gear ?? 'not said' }} · sensor
          {{ side.conditions.sensorPlace ?? 'not said' }}</template
        >
      </p>
      <p v-if="side.warning && quantity !== 'lambda'" class="note">{{ side.warning }}</p>
      <p v-for="hole in side.holes" :key="hole.fromRpm" class="hole">{{ holeText(hole) }}</p>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  margin-top: 4px;
}
.said {
  font-size: 15px;
}
.note {
  padding: 6px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
  font-size: 13px;
}
.hole {
  color: var(--lean);
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th {
  text-align: left;
  color: var(--soft);
  font-weight: 400;
}
td,
th {
  padding: 3px 4px;
  border-bottom: 1px solid var(--line);
  vertical-align: top;
}
.right {
  text-align: right;
  white-space: nowrap;
}
</style>
