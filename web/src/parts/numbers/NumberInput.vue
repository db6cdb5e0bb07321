<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { ElInput } from 'element-plus'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { readNumber } from '@yuzumix/core'

/** A number typed or stepped within its limits; "4,5" is four and a half. What is no number is dropped for what was there. */
const props = withDefaults(
  defineProps<{
    modelValue?: number | null
    min?: number
    max?: number
    step?: number
    precision?: number | undefined
    size?: 'small' | 'default'
    disabled?: boolean
    /** buttons to step it */
    controls?: boolean
    placeholder?: string
    /** what it is, for those who cannot see what stands beside it */
    name: string
  }>(),
  {
    modelValue: undefined,
    min: -Infinity,
    max: Infinity,
    step: 1,
    precision: undefined,
    size: 'default',
    controls: true,
    placeholder: '',
  },
)
/** ms */
const REFUSED_AFTER = 1000
const emit = defineEmits<{ 'update:modelValue': [value: number | undefined]; change: [value: number | undefined] }>()

function shownAs(value: number): string {
  return props.precision === undefined ? String(value) : value.toFixed(props.precision)
}
const written = computed(() => (props.modelValue == null ? '' : shownAs(props.modelValue)))
const text = ref(written.value)
watch(written, (now) => (text.value = now))

// The component of the field keeps a role for itself.
const field = useTemplateRef('field')
onMounted(() => field.value?.input?.setAttribute('role', 'spinbutton'))

/** Figures behind the point: steps of 0.1 must not end in a tail of ninths. */
function decimalsOf(value: number): number {
  return (String(value).split('.')[1] ?? '').length
}
function take(value: number | undefined): void {
  const next =
    value === undefined
      ? undefined
      : Math.min(props.max, Math.max(props.min, Number(value.toFixed(props.precision ?? 10))))
  if (next === (props.modelValue ?? undefined)) {
    text.value = written.value
    return
  }
  text.value = next === undefined ? '' : shownAs(next)
  emit('update:modelValue', next)
  emit('change', next)
  giveUp()
}
/** What was given and is not taken within a while was refused: what is there stands again. */
const { start: giveUp } = useTimeoutFn(() => (text.value = written.value), REFUSED_AFTER, { immediate: false })
function commit(): void {
  if (text.value.trim() === '') return take(undefined)
  const read = readNumber(text.value)
  if (Number.isNaN(read)) text.value = written.value
  else take(read)
}
function stepBy(by: number): void {
  if (props.disabled) return
  const typed = readNumber(text.value)
  const from = Number.isNaN(typed) ? (props.modelValue ?? Math.max(0, props.min)) : typed
  take(Number((from + by * props.step).toFixed(Math.max(decimalsOf(from), decimalsOf(props.step)))))
}
</script>

<template>
  <span class="number-input" :class="{ stepped: controls }">
    <ElInput
      ref="field"
      v-model="text"
      :size="size"
      :disabled="disabled"
      :placeholder="placeholder"
      :aria-label="name"
      :aria-valuenow="modelValue ?? undefined"
      :aria-valuemin="Number.isFinite(min) ? min : undefined"
      :aria-valuemax="Number.isFinite(max) ? max : undefined"
      inputmode="decimal"
      autocomplete="off"
      @change="commit"
      @keydown.up.prevent="stepBy(1)"
      @keydown.down.prevent="stepBy(-1)"
    />
    <span v-if="controls" class="steps" aria-hidden="true">
      <button type="button" tabindex="-1" :disabled="disabled" @click="stepBy(1)">+</button>
      <button type="button" tabindex="-1" :disabled="disabled" @click="stepBy(-1)">−</button>
    </span>
  </span>
</template>

<style scoped>
.number-input {
  position: relative;
  display: inline-flex;
  width: 120px;
}
.number-input :deep(input) {
  font-family: var(--figures, inherit);
}
.stepped :deep(.el-input__wrapper) {
  padding-right: 26px;
}
.steps {
  position: absolute;
  inset: 1px 1px 1px auto;
  display: grid;
  width: 22px;
  border-left: 1px solid var(--line);
}
.steps button {
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink-soft, inherit);
  font-size: 11.5px;
  line-height: 1;
  cursor: pointer;
}
.steps button:disabled {
  cursor: default;
  opacity: 0.5;
}
.steps button + button {
  border-top: 1px solid var(--line);
}
/* Too small for a finger; the figure is typed. */
@media (max-width: 700px), (pointer: coarse) {
  .steps {
    display: none;
  }
}
</style>
