<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { useJob } from '@/job/openJob'
import { counted } from '@/parts/numbers/format'
import { NEW_SET, type DayOfFiles } from './setsByDay'

/** Which set the files of each day go to. */
const days = defineModel<DayOfFiles[]>({ required: true })
const open = useJob()

function choose(at: number, set: string): void {
  days.value = days.value.map((one, k) => (k === at ? { ...one, set, why: 'as you chose' } : one))
}
</script>

<template>
  <section class="sets" aria-label="Sets that they go to">
    <div v-for="(one, k) in days" :key="one.day" class="day">
      <span class="figures">{{ counted(one.files.length, 'file') }} of {{ one.day }} go to</span>
      <ElSelect
        :model-value="one.set"
        size="small"
        :aria-label="`Set for the files of ${one.day}`"
        @update:model-value="choose(k, $event)"
      >
        <ElOption v-for="set in open.sets" :key="set.id" :value="set.id" :label="`${set.name} (${set.runCount})`" />
        <ElOption :value="NEW_SET" label="A new set" />
      </ElSelect>
      <span class="soft">{{ one.why }}</span>
    </div>
  </section>
</template>

<style scoped>
.sets {
  display: grid;
  gap: 6px;
  margin-top: 16px;
}
.day {
  display: grid;
  grid-template-columns: auto 220px 1fr;
  gap: 12px;
  align-items: center;
}
@media (max-width: 700px) {
  .day {
    grid-template-columns: 1fr;
  }
}
</style>
