<script setup lang="ts">
import { ElButton, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, nextTick, ref } from 'vue'
import {
  fitIdleMixture,
  fitIdlePeak,
  IDLE_SIDES,
  IDLE_WAYS,
  sidesAgree,
  type IdleReading,
  type IdleSide,
  type IdleWay,
  lambdaShown,
  USUAL_GAUGE_SCALE,
  readNumber,
  NINETY,
} from '@yuzumix/core'
import { notifyDone, notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'
import { plain, signed } from '@/parts/numbers/format'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import type { Jetting } from './useJetting'

/** Idle by ear and tachometer, by vacuum gauge, or by wideband: readings of turns, the peak, the rule from it. */
const props = defineProps<{ jetting: Jetting }>()
const { settings } = props.jetting
const way = ref<IdleWay>('speed')
const ofPeak = ref<IdleSide>('richer')
const sides = ref<1 | 2>(1)
const side = ref(0)
const mark = ref(1400)
/** The gauge that idle is read off, and what is usual on it: 13.2 where it shows 14.7 at lambda 1 (common practice). */
const scale = computed(() => useJob().job?.gaugeScale ?? USUAL_GAUGE_SCALE)
const target = ref(Math.round((10 * 13.2 * scale.value) / USUAL_GAUGE_SCALE) / 10)
interface Line {
  turns: string
  value: string
}
const fresh = (): Line[] => [{ turns: '', value: '' }]
/** by way: a speed is no mixture */
const byWay = ref(Object.fromEntries(IDLE_WAYS.map((one) => [one, [fresh(), fresh()]])) as Record<IdleWay, Line[][]>)
const lines = computed(() => byWay.value[way.value])
/** where each side was left, round by round */
const rounds = ref<number[][]>([[], []])

const readings = computed<IdleReading[]>(() =>
  lines.value[side.value]!.map((line) => ({ turns: readNumber(line.turns), value: readNumber(line.value) })).filter(
    (one) => Number.isFinite(one.turns) && Number.isFinite(one.value),
  ),
)
/** A wideband is typed as AFR or lambda. */
const asLambda = (value: number): number => lambdaShown(value, scale.value)
const fit = computed(() =>
  way.value === 'wideband'
    ? fitIdleMixture(
        readings.value.map((one) => ({ ...one, value: asLambda(one.value) })),
        asLambda(target.value),
      )
    : fitIdlePeak(readings.value, ofPeak.value, settings.value.body.screwIs === 'fuel'),
)
const unit = computed(() => ({ speed: 'rpm', vacuum: 'kPa', wideband: 'AFR or λ' })[way.value])
const isDone = computed(() => sides.value === 2 && sidesAgree(rounds.value))
/** Readings so far, for those who cannot see the little chart. */
const box = ref<HTMLElement>()

async function next(event: KeyboardEvent): Promise<void> {
  const all = [...box.value!.querySelectorAll('input[data-cell]')] as HTMLInputElement[]
  const at = all.indexOf(event.target as HTMLInputElement)
  if (at < 0) return
  event.preventDefault()
  if (at === all.length - 1) {
    lines.value[side.value]!.push({ turns: '', value: '' })
    await nextTick()
  }
  ;([...box.value!.querySelectorAll('input[data-cell]')] as HTMLInputElement[])[at + 1]?.focus()
}
async function setIt(): Promise<void> {
  if (fit.value.turns === null) return
  rounds.value[side.value]!.push(fit.value.set)
  lines.value[side.value] = fresh()
  if (sides.value === 2) side.value = 1 - side.value
  // One screw is set, or two that no longer move: that is what is fitted now.
  if (sides.value === 1 || isDone.value) await record()
}
/** The screws as they were left become what is fitted. */
async function record(): Promise<void> {
  const now = props.jetting.present.value
  if (!now) return
  const fitted = now.fitting.fitted.map((one, k) => {
    const set = rounds.value[Math.min(k, sides.value - 1)]!.at(-1)
    return set === undefined ? one : { ...one, screw: Math.round(100 * set) / 100 }
  })
  try {
    await props.jetting.fit(fitted, `Idle by ${way.value}`, null, now.weather)
    notifyDone('Recorded as fitted.')
  } catch (error) {
    notifyProblem(error)
  }
}
const points = computed(() => {
  const all = readings.value
  if (all.length < 2) return []
  const span = (values: number[]): [number, number] => [Math.min(...values), Math.max(...values)]
  const [x0, x1] = span(all.map((one) => one.turns))
  const [y0, y1] = span(all.map((one) => one.value))
  return all.map((one) => ({
    x: 12 + (296 * (one.turns - x0)) / Math.max(1e-9, x1 - x0),
    y: 70 - (58 * (one.value - y0)) / Math.max(1e-9, y1 - y0),
  }))
})
</script>

<template>
  <div ref="box" class="panel" @keydown.enter="next">
    <h3>Idle</h3>
    <p class="soft small">
      Warm engine, choke off. Idle speed on its mark first. From gently seated, turn out by quarters and read each.
    </p>
    <ElRadioGroup v-model="way" size="small" aria-label="Judged by">
      <ElRadioButton v-for="one in IDLE_WAYS" :key="one" :value="one">{{ one }}</ElRadioButton>
    </ElRadioGroup>
    <div class="line">
      <ElRadioGroup v-if="way !== 'wideband'" v-model="ofPeak" size="small" aria-label="Set to which side of the peak">
        <ElRadioButton v-for="one in IDLE_SIDES" :key="one" :value="one">{{ one }}</ElRadioButton>
      </ElRadioGroup>
      <label v-else class="line"
        >Target, AFR
        <NumberBox v-model="target" name="Idle target in AFR" :least="4" :most="20" :step="0.1" :precision="1"
      /></label>
      <ElRadioGroup v-model="sides" size="small" aria-label="Screws">
        <ElRadioButton :value="1">one screw</ElRadioButton>
        <ElRadioButton :value="2">two sides</ElRadioButton>
      </ElRadioGroup>
    </div>
    <ElRadioGroup v-if="sides === 2" v-model="side" size="small" aria-label="Side">
      <ElRadioButton :value="0">First side</ElRadioButton>
      <ElRadioButton :value="1">Second side</ElRadioButton>
    </ElRadioGroup>
    <table>
      <thead>
        <tr>
          <th scope="col">turns out</th>
          <th scope="col">{{ unit }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, k) in lines[side]" :key="k">
          <td><ElInput v-model="row.turns" size="small" data-cell :aria-label="`Turns, reading ${k + 1}`" /></td>
          <td><ElInput v-model="row.value" size="small" data-cell :aria-label="`Read, reading ${k + 1}`" /></td>
        </tr>
      </tbody>
    </table>
    <svg v-if="points.length" width="320" height="80" role="img" aria-label="Readings over turns">
      <line x1="8" x2="312" y1="74" y2="74" class="axis" />
      <circle v-for="(point, k) in points" :key="k" :cx="point.x" :cy="point.y" r="4" class="point" />
    </svg>
    <p role="status" class="result">
      <template v-if="fit.turns !== null">
        <strong>Set the screw to {{ plain(fit.set, 2) }} turns.</strong> {{ fit.note }}
        <span class="figures"
          >{{ way === 'wideband' ? 'target' : 'peak' }} at {{ plain(fit.turns, 2) }} ±
          {{ plain(NINETY * fit.error, 2) }}</span
        >
      </template>
      <template v-else>{{ readings.length ? fit.note : 'No readings yet.' }}</template>
    </p>
    <ElButton type="primary" size="small" :disabled="fit.turns === null" @click="setIt">It is set</ElButton>
    <template v-if="rounds[0]!.length || rounds[1]!.length">
      <p>
        Now bring idle speed back to its mark of
        <NumberBox v-model="mark" name="Idle speed's mark in rpm" :least="400" :most="4000" :step="50" /> rpm{{
          sides === 2 ? ', then read the other side' : ''
        }}.
      </p>
      <ul class="figures">
        <li v-for="(list, k) in rounds.slice(0, sides)" :key="k">
          {{ sides === 2 ? ['first side', 'second side'][k] : 'screw' }}:
          {{ list.map((one) => plain(one, 2)).join(' → ') || 'not set yet' }}
          <template v-if="list.length > 1">({{ signed(list.at(-1)! - list.at(-2)!, 2) }})</template>
        </li>
      </ul>
      <ElButton v-if="jetting.present.value" size="small" @click="record">Record the screw as fitted</ElButton>
      <p v-if="sides === 2" role="status">
        <strong>{{ isDone ? 'Neither side moves any more: done.' : 'Go on until neither side moves.' }}</strong>
      </p>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
th {
  color: var(--soft);
  font-weight: 400;
  text-align: left;
}
td {
  width: 130px;
  padding: 2px 8px 2px 0;
}
.result {
  min-height: 42px;
}
.axis {
  stroke: var(--line-strong);
}
.point {
  fill: var(--leaf);
}
</style>
