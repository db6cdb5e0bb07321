<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { useJob } from '@/job/openJob'
import SetSelect from '@/parts/choose/SetSelect.vue'
import WorkStatus from '@/parts/frame/WorkStatus.vue'
import type { ResponseState } from './useResponse'

/** Set and riding mode that a view speaks of, and how far the work is. */
const props = defineProps<{ state: ResponseState; idle: string }>()
const open = useJob()
const { response, mode, against } = props.state
const others = computed(() => open.sets.filter((one) => one.id !== open.set?.id && one.runCount > 0))
const { busy, slow, loaded, cancel } = props.state.working
const modes = computed(() => response.value?.modes ?? [])
</script>

<template>
  <SetSelect v-if="open.sets.length > 1" />
  <ChoiceSelect
    v-if="modes.length > 1"
    :model-value="response?.mode"
    class="modes"
    name="Riding mode"
    @update:model-value="mode = Number($event)"
    :choices="modes.map((one) => ({ value: one, label: `mode ${one}` }))"
  />
  <ElSelect v-if="others.length" v-model="against" size="small" class="against" aria-label="Held against" clearable>
    <ElOption value="" label="alone" />
    <ElOption v-for="one in others" :key="one.id" :value="one.id" :label="`before: ${one.name}`" />
  </ElSelect>
  <WorkStatus
    :busy="busy"
    :slow="slow"
    :doing="loaded < 1 ? `Fetching runs, ${Math.round(100 * loaded)} % …` : 'Working …'"
    :idle="idle"
    @stop="cancel()"
  />
</template>

<style scoped>
.modes {
  width: 110px;
}
.against {
  width: 170px;
}
</style>
