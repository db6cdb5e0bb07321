<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { plainFuelTables } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { api } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'

/** Keeps a table, and the carburettors, on the shelf: the start of the next machine like this. */
const open = useJob()
const chosen = ref('')
const table = computed(
  () => open.tables.find((one) => one.id === chosen.value) ?? plainFuelTables(open.tables).at(-1) ?? open.tables[0],
)
const keepable = computed(() => Boolean(table.value ?? open.job?.jetting))
const name = ref(open.job!.title.slice(0, 120))
const busy = ref(false)
async function keep(): Promise<void> {
  if (!keepable.value || !name.value.trim()) return
  busy.value = true
  try {
    const kept = await api.keepOnShelf({ job: open.job!.id, name: name.value.trim(), table: table.value?.id })
    notifyDone(`"${kept.name}" is on the shelf.`)
  } catch (error) {
    notifyProblem(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <h2>Shelf</h2>
  <p v-if="!keepable" class="soft">There is no table and no carburettor to keep.</p>
  <form v-else @submit.prevent="keep">
    <ChoiceSelect
      v-if="table && open.tables.length > 1"
      :model-value="table.id"
      name="Table to keep"
      @update:model-value="chosen = $event"
      :choices="open.tables.map((one) => ({ value: one.id, label: one.name }))"
    />
    <ElInput v-model="name" size="small" maxlength="120" aria-label="Name on the shelf" />
    <ElButton size="small" native-type="submit" :loading="busy">Keep on the shelf</ElButton>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: 6px;
  width: 100%;
  justify-items: start;
}
</style>
