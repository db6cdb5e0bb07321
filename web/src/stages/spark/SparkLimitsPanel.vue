<script setup lang="ts">
import { ElButton } from 'element-plus'
import { DEFAULT_SPARK_LIMITS, type SparkLimits } from '@yuzumix/core'
import NumberBox from '@/parts/numbers/NumberBox.vue'

/** How far one pass may move the spark. */
defineProps<{ limits: SparkLimits }>()
const emit = defineEmits<{ choose: [limits: SparkLimits] }>()
const FIELDS = [
  ['more', 'At most more advance in one pass', 10],
  ['less', 'At most less advance in one pass', 20],
  ['moreAfterKnock', 'More advance where knock was seen', 10],
  ['moreUnseen', 'More advance without a knock channel', 10],
  ['least', 'Leave alone what is smaller than', 5],
] as const
</script>

<template>
  <div class="panel">
    <label v-for="[key, label, most] in FIELDS" :key="key">
      <span>{{ label }}</span>
      <NumberBox
        :model-value="limits[key]"
        :least="0"
        :most="most"
        :step="0.1"
        :name="label"
        @update:model-value="emit('choose', { ...limits, [key]: $event })"
      />
      <span class="soft">°</span>
    </label>
    <ElButton size="small" class="start" @click="emit('choose', { ...DEFAULT_SPARK_LIMITS })"
      >Back to the usual limits</ElButton
    >
    <p class="caution">
      A save that moves a cell by more than +{{ DEFAULT_SPARK_LIMITS.more }}° or −{{ DEFAULT_SPARK_LIMITS.less }}° is
      refused unless you say why; that is kept. Knock breaks pistons in seconds and is not always heard. Measure again
      after each pass, the mixture too.
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
label {
  display: grid;
  grid-template-columns: 1fr auto 16px;
  gap: 8px;
  align-items: center;
}
.start {
  justify-self: start;
}
.caution {
  padding: 12px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
</style>
