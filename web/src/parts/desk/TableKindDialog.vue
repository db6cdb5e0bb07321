<script setup lang="ts">
import { ElButton, ElDialog, ElForm, ElFormItem, ElRadioButton, ElRadioGroup } from 'element-plus'
import { useDropZone } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { LoadAxis, TableKind } from '@yuzumix/core'
import { useHandling } from '@/job/handling'
import { DESK_KINDS } from './deskKinds'
import type { TableDesk } from './useTableDesk'

/** Takes a file dropped on the desk, and asks what a file does not say itself before it is read. */
const props = defineProps<{ desk: TableDesk }>()
const { unsaid, what, readFile } = props.desk
const chosen = ref<TableKind>()
const loadAxis = ref<LoadAxis>('throttle')
const kind = computed<TableKind | null>(() => (what === 'plate' ? 'plate' : (chosen.value ?? null)))
const handling = useHandling()
useDropZone(document.body, {
  onDrop: (files) => {
    if (files?.[0] && !handling.isDone) void readFile(files[0])
  },
})
function read(): void {
  if (unsaid.value && kind.value) void readFile(unsaid.value, { kind: kind.value, loadAxis: loadAxis.value })
}
</script>

<template>
  <ElDialog
    :model-value="unsaid !== null"
    title="What kind of table is it?"
    width="480px"
    align-center
    append-to-body
    @update:model-value="unsaid = null"
  >
    <p class="soft">
      "{{ unsaid?.name }}" does not say it. rpm may run across or down, small openings on top or below.
    </p>
    <ElForm label-position="top" @submit.prevent="read">
      <ElFormItem v-if="what !== 'plate'" label="Its cells are">
        <ElRadioGroup v-model="chosen" size="small" aria-label="Kind of the table in the file"
          ><ElRadioButton v-for="one in DESK_KINDS[what]" :key="one.value" :value="one.value">{{
            one.cells
          }}</ElRadioButton></ElRadioGroup
        >
      </ElFormItem>
      <ElFormItem label="Its rows stand for">
        <ElRadioGroup v-model="loadAxis" aria-label="What the rows of the file stand for"
          ><ElRadioButton value="throttle">throttle, %</ElRadioButton
          ><ElRadioButton value="manifold">manifold pressure, kPa</ElRadioButton></ElRadioGroup
        >
      </ElFormItem>
    </ElForm>
    <template #footer>
      <ElButton @click="unsaid = null">Cancel</ElButton>
      <ElButton type="primary" :disabled="!kind" @click="read">Read the table</ElButton>
    </template>
  </ElDialog>
</template>
