<script setup lang="ts" generic="T extends string | number">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'

/** One of some choices, each named by itself or by words of its own. What else a select takes is handed on. */
const props = defineProps<{
  /** what is chosen, for those who cannot see what stands beside it */
  name: string
  choices: readonly (T | { value: T; label: string })[]
  modelValue?: T | null | undefined
}>()
const emit = defineEmits<{ 'update:modelValue': [value: T] }>()
const named = computed(() =>
  props.choices.map((one) => (typeof one === 'object' ? one : { value: one, label: String(one) })),
)
</script>

<template>
  <ElSelect
    size="small"
    :model-value="modelValue"
    :aria-label="name"
    @update:model-value="emit('update:modelValue', $event)"
  >
    <ElOption v-for="one in named" :key="one.value" :value="one.value" :label="one.label" />
  </ElSelect>
</template>
