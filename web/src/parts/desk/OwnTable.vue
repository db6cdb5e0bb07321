<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref, watch } from 'vue'
import { setsFuel, type TableChange, type TableInfo } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem, notifyWithUndo } from '@/api/notify'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import InForceFields from './InForceFields.vue'

/** What a table is called, and taking it out, with the way back. */
const props = defineProps<{ info: TableInfo }>()
const open = useJob()
const handling = useHandling()
const name = ref(props.info.name)
watch(
  () => props.info,
  (now) => (name.value = now.name),
)
async function change(id: string, what: TableChange): Promise<boolean> {
  try {
    await api.changeTable(props.info.job, id, what)
    await open.reloadTables()
    return true
  } catch (error) {
    notifyProblem(error)
    return false
  }
}
async function takeOut(): Promise<void> {
  const { id, name: own } = props.info
  if (!(await change(id, { removed: true }))) return
  notifyWithUndo(`"${own}" is taken out, with its revisions.`, () => change(id, { removed: false }))
}
</script>

<template>
  <div class="own">
    <ElInput
      v-model="name"
      size="small"
      maxlength="120"
      aria-label="Name of the table"
      :disabled="handling.isDone"
      @change="name.trim() ? change(info.id, { name: name.trim() }) : (name = info.name)"
    />
    <ElButton size="small" :disabled="handling.isDone" @click="takeOut">Take this table out</ElButton>
  </div>
  <InForceFields
    v-if="setsFuel(info.table)"
    :model-value="info.inForce"
    :disabled="handling.isDone"
    @update:model-value="change(info.id, { inForce: $event })"
  />
</template>

<style scoped>
.own {
  display: flex;
  gap: 8px;
  margin-bottom: 8px;
}
</style>
