<script setup lang="ts">
import { DEFAULT_SPARK_LIMITS, type SparkLimits } from '@yuzumix/core'
import LimitsForm from '@/parts/form/LimitsForm.vue'

/** How far one pass may move the spark. */
defineProps<{ limits: SparkLimits }>()
const emit = defineEmits<{ choose: [limits: SparkLimits] }>()
const BOXES = [
  { key: 'more', label: 'At most more advance in one pass', unit: '°', least: 0, most: 10 },
  { key: 'less', label: 'At most less advance in one pass', unit: '°', least: 0, most: 20 },
  { key: 'moreAfterKnock', label: 'More advance where knock was seen', unit: '°', least: 0, most: 10 },
  { key: 'moreUnseen', label: 'More advance without a knock channel', unit: '°', least: 0, most: 10 },
  { key: 'least', label: 'Leave alone what is smaller than', unit: '°', least: 0, most: 5 },
] as const
</script>

<template>
  <LimitsForm
    :model-value="limits"
    :boxes="BOXES"
    :step="0.1"
    :usual="DEFAULT_SPARK_LIMITS"
    @update:model-value="emit('choose', $event)"
  >
    A save that moves a cell by more than +{{ DEFAULT_SPARK_LIMITS.more }}° or −{{ DEFAULT_SPARK_LIMITS.less }}° is
    refused unless you say why; that is kept. Knock breaks pistons in seconds and is not always heard. Measure again
    after each pass, the mixture too.
  </LimitsForm>
</template>
