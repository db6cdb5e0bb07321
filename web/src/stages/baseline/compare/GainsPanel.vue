<script setup lang="ts">
import { computed } from 'vue'
import { verdictOf, type Gain, type Hole, type Mismatch, type ComparedAnswer } from '@yuzumix/core'
import { counted, grouped, plain, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

const props = defineProps<{ compared: ComparedAnswer; stop: string }>()
const display = useDisplay()
const quantity = computed(() => props.compared.quantity)

/** What there is to say, in whole sentences that agree with each other and with the table. */
const said = computed(() => {
  const { comparison, second, first, gainBegins, gainBeginsWithin } = props.compared
  if (comparison.note) return comparison.note
  const { spans, over, elsewhere, sees } = verdictOf(comparison)
  const range = over ? ` between ${grouped(over.fromRpm)} and ${grouped(over.toRpm)} rpm` : ''
  if (spans.length === 0) {
    const unseen =
      sees === null
        ? ''
        : ` One below ${plain(Math.abs(sees * display.factorOf(quantity.value)), quantity.value === 'lambda' ? 3 : 1)} ${display.unitOf(quantity.value)} would not have shown.`
    // Over a band less shows than at one speed: the words must not deny what the rows say.
    return props.compared.gains.some(leavesOutNought)
      ? `At no single speed is a difference shown between "${first.name}" and "${second.name}"${range}, but some of the figures below leave out nought: over a band, or at a peak, less shows than at one speed.`
      : `No difference shown between "${first.name}" and "${second.name}"${range}.${unseen}`
  }
  const [more, less] = quantity.value === 'lambda' ? ['leaner', 'richer'] : ['above', 'below']
  const up = spans.filter((one) => one.difference > 0)
  const down = spans.filter((one) => one.difference < 0)
  const sentences = [
    up.length ? `"${second.name}" is really ${more} ${spanWords(up)}.` : '',
    down.length ? `${up.length ? 'It' : `"${second.name}"`} is really ${less} ${spanWords(down)}.` : '',
    quantity.value !== 'lambda' && gainBegins !== null
      ? `The ${up.length > 1 ? 'largest ' : ''}gain begins at ${grouped(gainBegins)} rpm${betweenWords(gainBeginsWithin)}.`
      : '',
    elsewhere ? `Elsewhere${range} no difference is shown.` : '',
  ]
  return sentences.filter(Boolean).join(' ')
})
const leavesOutNought = ({ low, high }: Gain): boolean => low !== null && high !== null && low * high > 0
const betweenWords = (within: readonly number[] | null): string =>
  within ? ` (${grouped(Math.round(within[0]!))} to ${grouped(Math.round(within[1]!))})` : ''
/** "from 6 400 to 9 200 rpm and from ...". */
function spanWords(spans: readonly { fromRpm: number; toRpm: number }[]): string {
  const words = spans.map(({ fromRpm, toRpm }) => `from ${grouped(fromRpm)} to ${grouped(toRpm)}`)
  return `${words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)}` : words[0]} rpm`
}

function name({ what, band, rpm }: Gain): string {
  if (what === 'peak') return `Peak, at ${grouped(rpm![0])} → ${grouped(rpm![1])} rpm`
  if (what === 'highest speed of both') return `At ${grouped(rpm![0])} rpm, the highest of both`
  if (what === 'at an rpm') return `At ${grouped(rpm![0])} rpm`
  const span = `${grouped(band!.fromRpm)} to ${grouped(band!.toRpm)}`
  return what === 'mean over a band' ? `Mean ${span}` : `Area ${span}`
}
/** Why there is no peak, of which curve. */
function endWords({ ends, rpm }: Gain): string {
  if (!ends) return ''
  const names = [props.compared.first.name, props.compared.second.name]
  const told = ends.flatMap((end, k) =>
    end === 'has a peak' ? [] : [`"${names[k]}" is ${end} at ${grouped(rpm![0])} rpm`],
  )
  return `No peak to compare: ${told.join(', ')}.`
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
    <p v-if="compared.scope" class="note" role="note">{{ compared.scope }}</p>
    <p v-if="compared.broughtToStop" class="note" role="note">{{ compared.broughtToStop }}</p>
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
            <template v-if="gain.ends"><br /><span class="soft">{{ endWords(gain) }}</span></template>
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
    <template v-for="side in sides" :key="side.name">
      <h3>{{ side.name }}</h3>
      <p class="soft">
        {{ counted(side.runs, 'run') }}{{ side.warmUps ? ` (${side.warmUps} warm-up kept out)` : '' }} ·
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
