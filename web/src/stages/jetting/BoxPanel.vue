<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import {
  chokingNeedleIn,
  partsFromCsv,
  partsToCsv,
  SLOTS_OF,
  tipInTarget,
  USUAL_GAUGE_SCALE,
  usualTargets,
  type Body,
  type Box,
  type JettingSettings,
} from '@yuzumix/core'
import { notifyDone, notifyProblem } from '@/api/notify'
import FileButton from '@/parts/choose/FileButton.vue'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import NeedleSketch from './NeedleSketch.vue'
import BodyFields from './BodyFields.vue'
import { boxTexts, readBoxTexts } from './boxTexts'
import type { Jetting } from './useJetting'

/** The carburettor itself, and the parts at hand. */
const props = defineProps<{ jetting: Jetting }>()
const { settings, fitted, fromFile } = props.jetting
const AFR = USUAL_GAUGE_SCALE
const body = ref<Body>({ ...settings.value.body })
const count = ref(settings.value.carburettors.length)
const cylinders = ref<string[]>([])
const targets = ref<number[]>([])
const tipIn = ref(tipInTarget(settings.value))
const TIP_IN = [
  ['wanted', 'Wanted'],
  ['lean', 'Lean from'],
  ['rich', 'Rich below'],
] as const
const texts = ref(boxTexts(settings.value.box))
const faults = ref<Partial<Record<keyof Box, string>>>({})
const working = ref(false)

/** Another kind meters otherwise, and has other usual targets. */
function takeKind(kind: Body['kind']): void {
  body.value = { ...body.value, kind }
  targets.value = usualTargets(kind).map((one) => Math.round(100 * AFR * one.lambda) / 100)
}
function show(shown: JettingSettings): void {
  const { body: own, box, carburettors, targets: wanted } = shown
  tipIn.value = { ...tipInTarget(shown) }
  body.value = { ...own }
  count.value = carburettors.length
  cylinders.value = carburettors.map((one) => one.cylinders.join(' '))
  targets.value = wanted.map((lambda) => Math.round(100 * AFR * lambda) / 100)
  texts.value = boxTexts(box)
}
watch(settings, show, { immediate: true })

const slots = computed(() => SLOTS_OF[body.value.kind])
const lists = computed(
  () =>
    [
      { key: 'main', name: 'Main jets', slot: 'main' },
      { key: 'pilot', name: 'Pilot jets', slot: 'pilot' },
      { key: 'cutaway', name: 'Slides, cutaway in mm', slot: 'cutaway' },
      { key: 'springs', name: 'Springs', slot: 'spring' },
    ].filter((one) => (slots.value as readonly string[]).includes(one.slot)) as {
      key: 'main' | 'pilot' | 'cutaway' | 'springs'
      name: string
    }[],
)
async function save(): Promise<void> {
  const { box, faults: found } = readBoxTexts(texts.value)
  const choking = found.needles ? null : chokingNeedleIn(body.value, box)
  faults.value = choking ? { ...found, needles: choking } : found
  if (Object.keys(faults.value).length) return
  working.value = true
  try {
    const carburettors = Array.from({ length: count.value }, (_, k) => ({
      name: settings.value.carburettors[k]?.name ?? (count.value > 1 ? `Carburettor ${k + 1}` : 'Carburettor'),
      cylinders: (cylinders.value[k] ?? String(k + 1))
        .split(/[\s,]+/)
        .filter(Boolean)
        .map(Number),
    }))
    await props.jetting.change({
      body: body.value,
      box,
      carburettors,
      targets: targets.value.map((afr) => afr / AFR),
      tipIn: tipIn.value,
    })
    notifyDone('The carburettor and its box are saved.')
  } catch (error) {
    notifyProblem(error)
  } finally {
    working.value = false
  }
}
function download(): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([partsToCsv(settings.value.box, fitted.value ?? {})], { type: 'text/csv' }))
  link.download = 'parts.csv'
  link.click()
  URL.revokeObjectURL(link.href)
}
async function read(file: File): Promise<void> {
  try {
    const { box, fitted: parts } = partsFromCsv(await file.text())
    if (Object.keys(parts).length) fromFile.value = parts
    show({ ...settings.value, body: body.value, box })
    notifyDone('Read. Save the box to keep it; what is fitted waits under Parts.')
  } catch (error) {
    notifyProblem(error)
  }
}
</script>

<template>
  <div class="panel">
    <BodyFields v-model="body" v-model:count="count" @kind="takeKind" />
    <template v-if="count > 1">
      <label v-for="k in count" :key="k"
        >Carburettor {{ k }} feeds cylinders
        <ElInput
          :model-value="cylinders[k - 1] ?? String(k)"
          size="small"
          :aria-label="`Cylinders of carburettor ${k}`"
          @update:model-value="cylinders[k - 1] = $event"
      /></label>
    </template>
    <h3>Targets, AFR</h3>
    <label v-for="(zone, k) in usualTargets(body.kind)" :key="zone.name"
      >{{ zone.name }}
      <NumberBox
        :model-value="targets[k] ?? 13"
        :name="`Target of ${zone.name} in AFR`"
        :least="9"
        :most="17"
        :step="0.1"
        :precision="1"
        @update:model-value="targets[k] = $event"
    /></label>
    <h3>Tip-in, lambda of the leanest reading as the throttle opens</h3>
    <label v-for="[key, label] in TIP_IN" :key="key"
      >{{ label }}
      <NumberBox
        v-model="tipIn[key]"
        :name="`Tip-in, ${label.toLowerCase()}, in lambda`"
        :least="0.5"
        :most="1.2"
        :step="0.01"
        :precision="2"
    /></label>
    <h3>Parts box</h3>
    <div v-for="one in lists" :key="one.key" class="wide">
      <label :for="`box-${one.key}`">{{ one.name }}</label>
      <ElInput :id="`box-${one.key}`" v-model="texts[one.key]" size="small" placeholder="sizes, with blanks between" />
      <p v-if="faults[one.key]" class="fault" role="alert">{{ faults[one.key] }}</p>
    </div>
    <div v-if="slots.includes('needle')" class="wide">
      <label for="box-needles">Needles, a line each: name: mm/diameter …; the name alone where it is not known</label>
      <NeedleSketch />
      <ElInput
        id="box-needles"
        v-model="texts['needles']"
        type="textarea"
        :autosize="{ minRows: 2, maxRows: 6 }"
        placeholder="T1: 0/2.56 5/2.55 10/2.46 20/2.17 30/1.58"
      />
      <p v-if="faults['needles']" class="fault" role="alert">{{ faults['needles'] }}</p>
    </div>
    <div v-if="slots.includes('rod')" class="wide">
      <label for="box-rods">Metering rods, a line each: name: cruise power, in mm</label>
      <ElInput
        id="box-rods"
        v-model="texts['rods']"
        type="textarea"
        :autosize="{ minRows: 2, maxRows: 6 }"
        placeholder="R1: 1.70 1.25"
      />
      <p v-if="faults['rods']" class="fault" role="alert">{{ faults['rods'] }}</p>
    </div>
    <div class="line">
      <ElButton type="primary" size="small" :loading="working" @click="save">Save carburettor and box</ElButton>
      <ElButton size="small" @click="download">Box as CSV</ElButton>
      <FileButton name="Parts as CSV" accept=".csv" size="small" @chosen="read">Read a CSV</FileButton>
    </div>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
}
.panel > :deep(label) {
  display: grid;
  grid-template-columns: 180px 1fr;
  align-items: center;
  font-size: 13px;
}
.panel > :deep(label .number-input),
.panel > :deep(label .el-select) {
  width: 150px;
}
.wide {
  display: grid;
  gap: 2px;
  font-size: 13px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.line :deep(.el-button + .el-button) {
  margin-left: 0;
}
</style>
