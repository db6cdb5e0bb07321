<script setup lang="ts">
import { ElButton, ElDialog, ElForm, ElFormItem, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref, watch } from 'vue'
import {
  checkTable,
  filled,
  looksTurned,
  pasteCells,
  valueLimits,
  type InForce,
  type LoadAxis,
  type LoadGrid,
  type Table,
  type TableKind,
} from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { withReason } from '@/api/withReason'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { readBreakpoints } from '@/parts/numbers/breakpointText'
import { useJob } from '@/job/openJob'
import { DESK_KINDS } from './deskKinds'
import InForceFields from './InForceFields.vue'
import type { DeskKind } from './useTableDesk'

const shown = defineModel<boolean>({ required: true })
const props = defineProps<{ what: DeskKind; grid: LoadGrid | null; fromFile: Table | null }>()
const emit = defineEmits<{ added: [id: string] }>()
const open = useJob()

const name = ref('')
const kind = ref<TableKind>(DESK_KINDS[props.what][0]!.value)
const inForce = ref<InForce | null>(null)
const composition = ref<'multiply' | 'add'>('multiply')
const cylinder = ref<number | undefined>()
/** what every cell begins at; nothing where the values are pasted */
const start = ref<number | undefined>()
const pasted = ref('')
/** whether the first line pasted is the smallest load; null for what it looks like */
const turned = ref<boolean | null>(null)
const isTurned = computed(() => turned.value ?? looksSo(pasted.value))
function looksSo(text: string): boolean {
  const [rpm, load] = [readBreakpoints('rpm', rpmText.value), readBreakpoints('load', loadText.value)]
  if (!text.trim() || 'fault' in rpm || 'fault' in load) return false
  try {
    return looksTurned(kind.value, filled({ rpm: rpm.points, load: load.points }, NaN), text) === true
  } catch {
    // What is no table is told when it is added.
    return false
  }
}
const loadAxis = ref<LoadAxis>('throttle')
const rpmText = ref('')
const loadText = ref('')
const fault = ref('')
const busy = ref(false)
const unit = computed(() => valueLimits(kind.value).unit)
/** A trim that does nothing is nought everywhere; what a base table holds nobody can guess. */
const usual = (now: TableKind): number | undefined => (now.endsWith('trim') ? 0 : undefined)

watch(shown, (now) => {
  if (!now) return
  ;[fault.value, pasted.value, start.value, turned.value] = ['', '', usual(kind.value), null]
  const grid = props.fromFile ?? props.grid
  ;[kind.value, inForce.value] = [props.fromFile?.kind ?? DESK_KINDS[props.what][0]!.value, null]
  composition.value = props.fromFile?.composition ?? 'multiply'
  name.value = props.fromFile
    ? 'Table from a file'
    : { fuel: 'Fuel trim', spark: 'Spark advance', plate: 'Plate by grip' }[props.what]
  loadAxis.value = grid?.loadAxis ?? 'throttle'
  if (grid) [rpmText.value, loadText.value] = [grid.rpm.join(' '), grid.load.join(' ')]
})
watch(kind, (now) => (start.value = usual(now)), { immediate: true })

function tableOf(): Table | string {
  if (props.fromFile) return props.fromFile
  const rpm = readBreakpoints('rpm', rpmText.value)
  const load = readBreakpoints('load', loadText.value)
  if ('fault' in rpm) return rpm.fault
  if ('fault' in load) return load.fault
  const grid = { loadAxis: loadAxis.value, rpm: rpm.points, load: load.points }
  const values = valuesAt(grid)
  return typeof values === 'string' ? values : { ...grid, kind: kind.value, composition: composition.value, values }
}

/** A plate begins as the hand; other tables as they are pasted, or all at one value. @returns what is missing, in words */
function valuesAt(grid: LoadGrid): Table['values'] | string {
  if (kind.value === 'plate') return grid.load.map((grip) => grid.rpm.map(() => Math.min(100, grip)))
  if (!pasted.value.trim())
    return start.value === undefined
      ? 'The values are missing: paste them, or say what every cell begins at. A table is what is in the machine.'
      : filled(grid, start.value)
  const all = { row0: 0, row1: grid.load.length - 1, column0: 0, column1: grid.rpm.length - 1 }
  try {
    const { values, notes } = pasteCells(grid, filled(grid, NaN), all, pasted.value, isTurned.value)
    return values.flat().some(Number.isNaN)
      ? `Not every cell has a value: ${grid.load.length} rows of ${grid.rpm.length} are needed. ${notes.join(' ')}`
      : values
  } catch (error) {
    return (error as Error).message
  }
}

async function add(): Promise<void> {
  const table = tableOf()
  if (typeof table === 'string') {
    fault.value = table
    return
  }
  try {
    checkTable(table)
    busy.value = true
    const info = await withReason((override) =>
      api.addTable(open.job!.id, {
        ...(override && { override }),
        name: name.value,
        cylinder: cylinder.value ?? null,
        inForce: inForce.value,
        table,
        reason: props.fromFile ? 'Read from a file' : 'As it was at first',
      }),
    )
    if (!info) return
    open.putTable(info)
    shown.value = false
    emit('added', info.id)
  } catch (error) {
    fault.value = (error as Error).message
    notifyProblem(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <ElDialog
    v-model="shown"
    :title="fromFile ? 'Add the table from the file' : `New ${what} table`"
    width="640px"
    align-center
    append-to-body
  >
    <ElForm label-position="top" @submit.prevent="add">
      <div class="pair">
        <ElFormItem label="Name"><ElInput v-model="name" maxlength="120" aria-label="Name of the table" /></ElFormItem>
        <ElFormItem label="For cylinder (empty: all)"
          ><NumberInput v-model="cylinder" :min="1" :max="12" name="Cylinder of the table"
        /></ElFormItem>
      </div>
      <template v-if="!fromFile">
        <div v-if="what !== 'plate'" class="pair">
          <ElFormItem label="Kind">
            <ElRadioGroup v-model="kind" size="small" aria-label="Kind of table"
              ><ElRadioButton v-for="one in DESK_KINDS[what]" :key="one.value" :value="one.value">{{
                one.label
              }}</ElRadioButton></ElRadioGroup
            >
          </ElFormItem>
          <ElFormItem v-if="kind === 'fuel trim'" label="This trim and a global trim">
            <ElRadioGroup v-model="composition" aria-label="How trims combine"
              ><ElRadioButton value="multiply">multiply</ElRadioButton
              ><ElRadioButton value="add">add</ElRadioButton></ElRadioGroup
            >
          </ElFormItem>
        </div>
        <div v-if="what !== 'plate'" class="pair">
          <ElFormItem :label="`Every cell begins at ${unit}`"
            ><NumberInput
              v-model="start"
              :min="valueLimits(kind).least"
              :max="valueLimits(kind).most"
              name="Every cell begins at"
          /></ElFormItem>
          <ElFormItem label="Its rows stand for">
            <ElRadioGroup v-model="loadAxis" aria-label="What the rows stand for"
              ><ElRadioButton value="throttle">throttle, %</ElRadioButton
              ><ElRadioButton value="manifold">manifold pressure, kPa</ElRadioButton></ElRadioGroup
            >
          </ElFormItem>
        </div>
        <ElFormItem v-if="what === 'fuel'" label="Where it is in force, on a controller with several maps"
          ><InForceFields v-model="inForce"
        /></ElFormItem>
        <ElFormItem label="rpm breakpoints"
          ><ElInput v-model="rpmText" type="textarea" :rows="2" aria-label="rpm breakpoints of the table"
        /></ElFormItem>
        <ElFormItem label="load breakpoints"
          ><ElInput v-model="loadText" aria-label="load breakpoints of the table"
        /></ElFormItem>
        <ElFormItem v-if="what !== 'plate'" label="Values, from a spreadsheet; they go before the one value above"
          ><ElInput
            v-model="pasted"
            type="textarea"
            :rows="3"
            aria-label="Values of the table"
            placeholder="paste the cells here, with or without their breakpoints"
        /></ElFormItem>
        <ElFormItem
          v-if="what !== 'plate' && pasted.trim()"
          label="Its first line, where no breakpoints stand beside it, is"
        >
          <ElRadioGroup
            :model-value="isTurned"
            size="small"
            aria-label="First line of what is pasted"
            @update:model-value="turned = Boolean($event)"
          >
            <ElRadioButton :value="false">the largest load</ElRadioButton>
            <ElRadioButton :value="true">the smallest load</ElRadioButton>
          </ElRadioGroup>
        </ElFormItem>
        <p class="soft">
          Use the breakpoints of your controller or module, and what is in it now: changes are worked out against it.
        </p>
      </template>
      <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
      <div class="acts">
        <ElButton @click="shown = false">Cancel</ElButton>
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!name.trim()">Add the table</ElButton>
      </div>
    </ElForm>
  </ElDialog>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 16px;
}
.acts {
  display: flex;
  justify-content: flex-end;
  margin-top: 12px;
}
</style>
