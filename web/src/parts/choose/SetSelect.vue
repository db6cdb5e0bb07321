<script setup lang="ts">
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { useJob } from '@/job/openJob'

const open = useJob()
</script>

<template>
  <ChoiceSelect
    v-if="open.sets.length"
    :model-value="open.set?.id"
    name="Set of runs"
    class="set"
    @update:model-value="open.chosenSet = $event"
    :choices="open.sets.map((one) => ({ value: one.id, label: `${one.name} (${one.runCount})` }))"
  />
</template>

<style scoped>
.set {
  width: 210px;
}
</style>
