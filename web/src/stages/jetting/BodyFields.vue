<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed } from 'vue'
import { CARBURETTOR_KINDS, JET_SCHEMES, SLOTS_OF, type Body } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import NumberBox from '@/parts/numbers/NumberBox.vue'

/** The carburettor itself: what cannot be changed of it. */
const body = defineModel<Body>({ required: true })
const count = defineModel<number>('count', { required: true })
const emit = defineEmits<{ kind: [kind: Body['kind']] }>()
const slots = computed(() => SLOTS_OF[body.value.kind])
</script>

<template>
  <h3>Carburettor</h3>
  <label
    >Kind
    <ChoiceSelect
      :model-value="body.kind"
      name="Kind of carburettor"
      @update:model-value="emit('kind', $event)"
      :choices="CARBURETTOR_KINDS"
    />
  </label>
  <label>How many <NumberBox v-model="count" name="How many carburettors" :least="1" :most="4" /></label>
  <label
    >Jets numbered by
    <ElRadioGroup v-model="body.scheme" size="small" aria-label="Jets numbered by">
      <ElRadioButton v-for="one in JET_SCHEMES" :key="one" :value="one">{{ one }}</ElRadioButton>
    </ElRadioGroup>
  </label>
  <label>Bore, mm <NumberBox v-model="body.bore" name="Bore in mm" :least="5" :most="80" :step="0.5" /></label>
  <template v-if="slots.includes('needle')">
    <label
      >Needle jet, mm
      <NumberBox v-model="body.needleJet" name="Needle jet in mm" :least="0.5" :most="10" :step="0.01" :precision="2"
    /></label>
    <label
      >Grooves for the clip <NumberBox v-model="body.clips" name="Grooves for the clip" :least="1" :most="15"
    /></label>
    <label
      >From groove to groove, mm
      <NumberBox
        v-model="body.groove"
        name="From groove to groove in mm"
        :least="0.1"
        :most="5"
        :step="0.1"
        :precision="2"
    /></label>
  </template>
  <label v-if="slots.includes('screw')"
    >Idle screw lets in
    <ElRadioGroup v-model="body.screwIs" size="small" aria-label="Idle screw lets in">
      <ElRadioButton value="air">air</ElRadioButton>
      <ElRadioButton value="fuel">fuel</ElRadioButton>
    </ElRadioGroup>
  </label>
</template>
