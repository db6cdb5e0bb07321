<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { useJob } from '@/job/openJob'

const open = useJob()
</script>

<template>
  <ElSelect
    v-if="open.sets.length"
    :model-value="open.set?.id"
    size="small"
    aria-label="Set of runs"
    class="set"
    @update:model-value="open.chosenSet = $event"
  >
    <ElOption v-for="one in open.sets" :key="one.id" :value="one.id" :label="`${one.name} (${one.runCount})`" />
  </ElSelect>
</template>

<style scoped>
.set {
  width: 210px;
}
</style>
