<script setup lang="ts">
import { ElCheckbox, ElCheckboxGroup } from 'element-plus'
import { SERVICES, PLANNED_KINDS, PURPOSES, ORDERS, type PlanChoice } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import NumberBox from '@/parts/numbers/NumberBox.vue'

const props = defineProps<{ choice: PlanChoice }>()
const emit = defineEmits<{ choose: [choice: PlanChoice] }>()
const set = (change: Partial<PlanChoice>): void => emit('choose', { ...props.choice, ...change })

const PURPOSE_TEXT = {
  mixture: 'set the mixture',
  comparison: 'compare before and after',
  check: 'see whether a retune is needed',
}
</script>

<template>
  <div class="form">
    <label
      >Purpose
      <ChoiceSelect
        :model-value="choice.purpose"
        name="Purpose"
        @update:model-value="set({ purpose: $event })"
        :choices="PURPOSES.map((one) => ({ value: one, label: PURPOSE_TEXT[one] }))"
      />
    </label>
    <label
      >Order
      <ChoiceSelect
        :model-value="choice.order"
        name="Order"
        @update:model-value="set({ order: $event })"
        :choices="ORDERS"
      />
    </label>
    <label
      >Level of service
      <ChoiceSelect
        :model-value="choice.service"
        name="Level of service"
        @update:model-value="set({ service: $event })"
        :choices="SERVICES"
      />
    </label>
    <label
      >Minutes at hand
      <NumberInput
        :model-value="choice.minutesAtHand ?? undefined"
        :min="1"
        :max="1440"
        :step="10"
        size="small"
        placeholder="open"
        name="Minutes at hand"
        @update:model-value="set({ minutesAtHand: $event ?? null })"
    /></label>
    <div class="kinds">
      <span>Kinds of run</span>
      <ElCheckboxGroup
        :model-value="choice.kinds"
        size="small"
        aria-label="Kinds of run"
        @update:model-value="$event.length && set({ kinds: PLANNED_KINDS.filter((one) => $event.includes(one)) })"
      >
        <ElCheckbox v-for="one in PLANNED_KINDS" :key="one" :value="one">{{ one }}s</ElCheckbox>
      </ElCheckboxGroup>
    </div>
    <label
      >From rpm
      <NumberBox
        :model-value="choice.fromRpm"
        :least="300"
        :most="29000"
        :step="100"
        name="From rpm"
        @update:model-value="set({ fromRpm: $event })"
    /></label>
    <label
      >To rpm
      <NumberBox
        :model-value="choice.toRpm"
        :least="choice.fromRpm + 500"
        :most="30000"
        :step="100"
        name="To rpm"
        @update:model-value="set({ toRpm: $event })"
    /></label>
    <label
      >Gear
      <NumberInput
        :model-value="choice.gear ?? undefined"
        :min="1"
        :max="12"
        size="small"
        placeholder="any"
        name="Gear of the plan"
        @update:model-value="set({ gear: $event ?? null })"
    /></label>
    <label v-for="(title, key) in { sweep: 'Sweep, min', cooling: 'Cooling wide open, min' }" :key="key"
      >{{ title }}
      <NumberBox
        :model-value="choice.pace[key]"
        :least="0"
        :most="30"
        :step="0.1"
        :precision="1"
        :name="title"
        @update:model-value="set({ pace: { ...choice.pace, [key]: $event } })"
    /></label>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: repeat(5, 1fr);
  gap: 8px 12px;
  flex: none;
}
.form > label,
.kinds {
  display: grid;
  align-content: start;
  gap: 2px;
  color: var(--soft);
  font-size: 13px;
}
.form :deep(.number-input) {
  width: 100%;
}
.form :deep(.el-checkbox) {
  height: 24px;
  margin-right: 8px;
}
.form :deep(.el-checkbox__label) {
  padding-left: 4px;
}
.kinds :deep(.el-checkbox-group) {
  white-space: nowrap;
}
@media (max-width: 700px) {
  .form {
    grid-template-columns: repeat(2, 1fr);
  }
  .kinds :deep(.el-checkbox-group) {
    white-space: normal;
  }
}
</style>
