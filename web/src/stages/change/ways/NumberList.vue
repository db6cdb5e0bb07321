<script setup lang="ts">
import { ElInput } from 'element-plus'
import { ref, watch } from 'vue'
import { readNumbers } from '@yuzumix/core'

/** Rising numbers as people type them, apart by blanks; empty for none. */
const props = withDefaults(defineProps<{ label: string; placeholder: string; least?: number }>(), { least: 0 })
const numbers = defineModel<number[]>({ required: true })
const text = ref('')
const fault = ref('')
watch(numbers, (now) => (text.value = now.join(' ')), { immediate: true })
function read(): void {
  const read = text.value.trim() === '' ? [] : readNumbers(text.value)
  const said = typeof read === 'string' ? read : faultOf(read)
  fault.value = said
  if (typeof read !== 'string' && !said) numbers.value = read
}
function faultOf(read: readonly number[]): string {
  if (read.length < props.least) return `needs ${props.least} numbers`
  return read.every((one, k) => k === 0 || one > read[k - 1]!) ? '' : 'must rise'
}
</script>

<template>
  <label>
    {{ label }}
    <ElInput v-model="text" size="small" :placeholder="placeholder" :aria-invalid="fault !== ''" @change="read" />
    <span v-if="fault" class="fault" role="alert">{{ fault }}</span>
  </label>
</template>

<style scoped>
label {
  grid-column: 1 / -1;
  display: grid;
  gap: 2px;
  font-size: 12px;
  color: var(--soft);
}
.fault {
  color: var(--alarm);
}
</style>
