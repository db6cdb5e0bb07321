<script setup lang="ts">
import { interpolateRgb } from 'd3'
import { ElButton, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { risingAt, torqueCurve, wholeMap, type GripMap, setsPlate } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { grouped, plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import LinesChart, { type GripLine } from './LinesChart.vue'
import ResponseBar from './ResponseBar.vue'
import type { ResponseState } from './useResponse'

/** How the plate follows the hand, and torque against grip as the last judge. */
const props = defineProps<{ state: ResponseState }>()
const open = useJob()
const display = useDisplay()
const handling = useHandling()
const router = useRouter()
const { response, problem } = props.state
const map = computed(() => response.value?.grip ?? null)
const plates = computed(() => open.tables.filter((one) => setsPlate(one.table)))
const making = ref(false)

/** Slow speeds are light, fast ones dark (in the dark theme the other way about): an order, not a code. */
const tint = (k: number, of: number): string =>
  interpolateRgb(display.dark ? '#4c6b5b' : '#a9cdbb', display.dark ? '#d6f0e3' : '#1d4a36')(of > 1 ? k / (of - 1) : 1)
const linesOf = (found: GripMap): GripLine[] =>
  found.rpm.map((rpm, k) => ({
    name: `${grouped(rpm)} rpm`,
    colour: tint(k, found.rpm.length),
    points: found.grip.flatMap((grip, g) => (found.plate[g]![k] == null ? [] : [{ x: grip, y: found.plate[g]![k]! }])),
  }))
const measured = computed<GripLine[]>(() => (map.value ? linesOf(map.value) : []))

/** One map with its torque, or those of the modes or gears side by side. */
const how = ref<'one' | 'mode' | 'gear'>('one')
const sides = computed(() => {
  const { byMode, byGear } = response.value ?? {}
  return [
    { how: 'mode' as const, name: 'Mode', label: 'Modes side by side', of: byMode },
    { how: 'gear' as const, name: 'Gear', label: 'Gears side by side', of: byGear },
  ].flatMap((one) => (one.of?.maps.length ? [{ ...one, maps: one.of.maps }] : []))
})
const side = computed(() => sides.value.find((one) => one.how === how.value) ?? null)
/** What is to be said of modes and gears, whichever is looked at. */
const apart = computed(() => [response.value?.byMode.text, response.value?.byGear.text].filter(Boolean))
const torque = computed<GripLine[]>(() => {
  const [found, by] = [map.value, response.value?.torque]
  if (!found || !by) return []
  return found.rpm.flatMap((rpm, k): GripLine[] => {
    const curve = torqueCurve(by, rpm)
    if (!curve) return []
    const at = risingAt(curve)
    const points = found.grip.flatMap((grip, g) =>
      found.plate[g]![k] == null ? [] : [{ x: grip, y: at(found.plate[g]![k]!).value }],
    )
    return [{ name: `${grouped(rpm)} rpm`, colour: tint(k, found.rpm.length), points }]
  })
})
const ends = computed(() => {
  const values = torque.value.flatMap((one) => one.points.map((point) => point.y))
  return { least: Math.min(0, ...values), most: Math.max(10, ...values) }
})
const gains = computed(() => (map.value ? Math.max(0, ...map.value.gain.flat().map((one) => one ?? 0)) : 0))
/** The worst of each kind, and how much else there is of it. */
const flags = computed(() => {
  const all = map.value?.flags ?? []
  return [...new Set(all.map((one) => one.what))].map((what) => {
    const own = all.filter((one) => one.what === what)
    const worst = own.reduce((most, one) => (one.value > most.value ? one : most))
    const places = own.map((one) => (what === 'moves by itself' ? one.grip : one.rpm))
    const unit = what === 'moves by itself' ? '% of grip' : 'rpm'
    const others =
      own.length > 1
        ? `So at ${own.length} places from ${grouped(Math.min(...places))} to ${grouped(Math.max(...places))} ${unit}.`
        : ''
    return { what, worst, others }
  })
})
const notes = computed(() => (response.value?.notes ?? []).filter((one) => /grip|plate|mode/i.test(one)))

/** The measured map as a table of the job, so that it can be worked on. */
async function makeTable(): Promise<void> {
  making.value = true
  try {
    const { grip, rpm, values } = wholeMap(map.value!)
    const round = (value: number): number => Math.round(10 * value) / 10
    const info = await api.addTable(open.job!.id, {
      name: `Plate by grip${response.value?.mode ? `, mode ${response.value.mode}` : ''}`,
      cylinder: null,
      table: {
        kind: 'plate',
        composition: 'multiply',
        loadAxis: 'throttle',
        rpm,
        load: grip,
        values: values.map((row) => row.map(round)),
      },
      reason: 'As measured',
    })
    open.putTable(info)
    await router.push({ name: 'response', params: { job: open.job!.id, view: 'tables' } })
  } catch (error) {
    notifyProblem(error)
  } finally {
    making.value = false
  }
}
const toTables = (): void => void router.push({ name: 'response', params: { job: open.job!.id, view: 'tables' } })
</script>

<template>
  <StageSplit label="Grip to plate" drawer-label="What stands out" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <ElRadioGroup v-if="sides.length" v-model="how" size="small" aria-label="Maps">
        <ElRadioButton value="one">One map</ElRadioButton>
        <ElRadioButton v-for="one in sides" :key="one.how" :value="one.how">{{ one.label }}</ElRadioButton>
      </ElRadioGroup>
      <ResponseBar :state="state" idle="" />
    </template>
    <div v-if="side" class="sides">
      <LinesChart
        v-for="one in side.maps"
        :key="one.of"
        :title="`${side.name} ${one.of}: plate over grip, one line a speed`"
        :lines="linesOf(one.grip)"
        unit="%"
        :most="100"
        straight
      />
    </div>
    <template v-else-if="map">
      <LinesChart
        title="Plate over grip, one line a speed; dotted: plate = hand"
        :lines="measured"
        unit="%"
        :most="100"
        straight
      />
      <LinesChart
        v-if="torque.length"
        title="Torque over grip, one line a speed: straight is what a hand expects"
        :lines="torque"
        unit="N·m"
        :most="ends.most"
        :least="ends.least"
      />
    </template>
    <div v-else-if="response" class="empty">
      <h1>Grip to plate</h1>
      <p v-for="note in notes" :key="note">{{ note }}</p>
    </div>
    <template #drawer>
      <template v-if="map">
        <h2>What stands out</h2>
        <p>
          The plate follows {{ Math.round(1000 * map.follows) }} ms behind the hand. Steepest: {{ plain(gains, 1) }} %
          of plate for 1 % of grip.
          {{ map.flags.length ? '' : 'The plate follows the hand; nothing stands out.' }}
        </p>
        <ul>
          <li v-for="one in flags" :key="one.what">
            {{ one.worst.text }}
            <span v-if="one.others" class="soft">{{ one.others }}</span>
          </li>
        </ul>
        <p v-for="one in apart" :key="one">{{ one }}</p>
        <p v-for="note in notes" :key="note" class="soft">{{ note }}</p>
        <ElButton v-if="plates.length" type="primary" size="small" @click="toTables">Shape the plate table</ElButton>
        <ElButton v-else-if="!handling.isDone" type="primary" size="small" :loading="making" @click="makeTable"
          >Make a plate table of the measured map</ElButton
        >
      </template>
      <p v-else class="soft">Nothing was measured yet.</p>
    </template>
  </StageSplit>
</template>

<style scoped>
.sides {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  grid-auto-rows: 1fr;
  gap: 8px;
}
.sides > * {
  height: auto;
}
.empty {
  display: grid;
  gap: 12px;
  max-width: 640px;
  padding: 24px;
}
h2 {
  font-size: 15px;
  margin: 12px 0 4px;
}
ul {
  padding-left: 18px;
}
</style>
