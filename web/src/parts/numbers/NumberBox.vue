<script setup lang="ts">
import NumberInput from '@/parts/numbers/NumberInput.vue'

/** A number typed or stepped, within its limits; an emptied box keeps the number it had. */
withDefaults(
  defineProps<{
    /** what it is, for those who cannot see what stands beside it */
    name: string
    least: number
    most: number
    step?: number
    precision?: number | undefined
    disabled?: boolean
    size?: 'small' | 'default'
  }>(),
  { step: 1, precision: undefined, size: 'small' },
)
const value = defineModel<number>({ required: true })
</script>

<template>
  <NumberInput
    :model-value="value"
    :min="least"
    :max="most"
    :step="step"
    :precision="precision"
    :size="size"
    :disabled="disabled"
    :name="name"
    @update:model-value="typeof $event === 'number' && (value = $event)"
  />
</template>
