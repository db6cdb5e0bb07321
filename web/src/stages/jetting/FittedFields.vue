<script setup lang="ts">
import { computed } from 'vue'
import { SLOT_NAMES, SLOTS_OF, type Body, type Box, type Fitted, type Slot } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import NumberBox from '@/parts/numbers/NumberBox.vue'

/** What is fitted in one carburettor, slot by slot. */
const props = defineProps<{ body: Body; box: Box; name: string }>()
const fitted = defineModel<Fitted>({ required: true })
const slots = computed(() => SLOTS_OF[props.body.kind])
const STEPS: Partial<Record<Slot, { most: number; step: number; unit: string; usual: number }>> = {
  main: { most: 2000, step: 2.5, unit: '', usual: 115 },
  pilot: { most: 2000, step: 2.5, unit: '', usual: 40 },
  clip: { most: 15, step: 1, unit: 'from the top', usual: 3 },
  screw: { most: 8, step: 0.25, unit: 'turns out', usual: 1.5 },
  cutaway: { most: 10, step: 0.5, unit: 'mm', usual: 2.5 },
  spring: { most: 200, step: 0.1, unit: '', usual: 1 },
  high: { most: 8, step: 0.25, unit: 'turns out', usual: 1.25 },
  low: { most: 8, step: 0.25, unit: 'turns out', usual: 1.25 },
}
/** Chosen by name from the box; the others are numbers. */
const isNamed = (slot: Slot): slot is 'needle' | 'rod' => slot === 'needle' || slot === 'rod'
const names = (slot: Slot): string[] => (slot === 'needle' ? props.box.needles : props.box.rods).map((one) => one.name)
function set(slot: Slot, value: number | string): void {
  fitted.value = { ...fitted.value, [slot]: value }
}
</script>

<template>
  <div class="fields">
    <label v-for="slot in slots" :key="slot">
      <span>{{ SLOT_NAMES[slot] }}</span>
      <ChoiceSelect
        v-if="isNamed(slot)"
        :model-value="(fitted[slot] as string | undefined) ?? ''"
        :name="`${name}: ${SLOT_NAMES[slot]}`"
        no-data-text="Enter it in the box first"
        @update:model-value="set(slot, $event)"
        :choices="names(slot)"
      />
      <NumberBox
        v-else
        :model-value="(fitted[slot] as number | undefined) ?? STEPS[slot]!.usual"
        :name="`${name}: ${SLOT_NAMES[slot]}`"
        :least="slot === 'clip' || slot === 'main' || slot === 'pilot' ? 1 : 0"
        :most="slot === 'clip' ? body.clips : STEPS[slot]!.most"
        :step="STEPS[slot]!.step"
        @update:model-value="set(slot, $event)"
      />
      <span class="soft">{{ STEPS[slot]?.unit }}</span>
    </label>
    <label>
      <span>float height</span>
      <NumberBox
        :model-value="fitted.floatHeight ?? 0"
        :name="`${name}: float height`"
        :least="0"
        :most="60"
        :step="0.5"
        @update:model-value="fitted = { ...fitted, floatHeight: $event }"
      />
      <span class="soft">mm, recorded</span>
    </label>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 6px;
}
label {
  display: grid;
  grid-template-columns: 110px 130px auto;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
label :deep(.number-input),
label :deep(.el-select) {
  width: 130px;
}
</style>
