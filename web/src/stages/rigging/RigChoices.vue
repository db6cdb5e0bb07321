<script setup lang="ts">
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed } from 'vue'
import type { Rigging } from '@yuzumix/core'

/** How the machine is fuelled and measured; the list is made from it. */
const props = defineProps<{ rigging: Rigging; cylinders: number; hasLoop: boolean }>()
const emit = defineEmits<{ choose: [change: Rigging] }>()
const CHOICES = [
  { field: 'fuelling', label: 'Fuelling', words: ['injected', 'carburetted'], usual: 'injected' },
  { field: 'closedLoop', label: 'Closed loop', words: ['closed loop', 'no closed loop'], usual: null },
  { field: 'drive', label: 'Driven on', words: ['drum', 'road'], usual: 'drum' },
  { field: 'probe', label: 'Probe in', words: ['header', 'tailpipe'], usual: 'header' },
  { field: 'pickUp', label: 'rpm from', words: ['clip-on', 'wires under the tank'], usual: 'clip-on' },
] as const
const numbers = computed(() => Array.from({ length: props.cylinders }, (_, k) => k + 1))
const probes = computed(() => props.rigging.probes ?? numbers.value.map((n) => ({ probe: n, cylinder: n })))
const isShared = computed(() => new Set(probes.value.map((one) => one.cylinder)).size < probes.value.length)
const nameOf = (n: number): string => props.rigging.cylinderNames?.[n - 1] ?? ''
function rename(n: number, name: string): void {
  const names = numbers.value.map((one) => (one === n ? name.trim() : nameOf(one)) || `cylinder ${one}`)
  emit('choose', { cylinderNames: names })
}
function place(probe: number, cylinder: number): void {
  emit('choose', { probes: probes.value.map((one) => (one.probe === probe ? { probe, cylinder } : one)) })
}
</script>

<template>
  <div class="choices">
    <ElRadioGroup
      v-for="one in CHOICES"
      :key="one.field"
      :model-value="rigging[one.field] ?? one.usual ?? one.words[hasLoop ? 0 : 1]"
      size="small"
      :aria-label="one.label"
      @update:model-value="emit('choose', { [one.field]: $event })"
    >
      <ElRadioButton v-for="word in one.words" :key="word" :value="word">{{ word }}</ElRadioButton>
    </ElRadioGroup>
    <span
      v-if="rigging.closedLoop === 'no closed loop' && rigging.fuelling !== 'carburetted'"
      class="soft"
      role="status"
      >Only with its sensor unplugged or the loop switched off: what a loop holds would be taken for lean and given
      fuel.</span
    >
    <template v-if="cylinders > 1">
      <label v-for="n in numbers" :key="n">
        Probe {{ n }} in
        <ChoiceSelect
          :model-value="probes[n - 1]?.cylinder ?? n"
          class="small"
          :name="`Cylinder of probe ${n}`"
          @update:model-value="place(n, $event)"
          :choices="numbers.map((one) => ({ value: one, label: nameOf(one) || `cylinder ${one}` }))"
        />
        <ElInput
          :model-value="nameOf(n)"
          size="small"
          class="small"
          maxlength="30"
          :aria-label="`Name of cylinder ${n}`"
          placeholder="front, left …"
          @change="rename(n, $event)"
        />
      </label>
      <span v-if="isShared" class="soft">Two probes in one gas check each other.</span>
    </template>
  </div>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  flex: none;
  align-items: center;
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.small {
  width: 116px;
}
</style>
