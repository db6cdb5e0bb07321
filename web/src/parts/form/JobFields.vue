<script setup lang="ts">
import { plain } from '@/parts/numbers/format'
import { ElCheckbox, ElFormItem, ElInput, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { FUELS, USES } from '@yuzumix/core'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import type { JobForm } from './jobForm'

const form = defineModel<JobForm>({ required: true })
defineProps<{ faults: Record<string, string> }>()
const stoich = computed(() => FUELS.find((one) => one.id === form.value.fuel)?.stoichAfr)
</script>

<template>
  <ElFormItem label="Title" :error="faults['title'] ?? ''">
    <ElInput
      v-model="form.title"
      maxlength="160"
      placeholder="What will you look for it by?"
      aria-label="Title"
      autofocus
    />
  </ElFormItem>
  <div class="row">
    <ElFormItem label="Machine"><ElInput v-model="form.machine" maxlength="120" aria-label="Machine" /></ElFormItem>
    <ElFormItem label="Cylinders" :error="faults['machine.cylinders'] ?? ''"
      ><NumberInput v-model="form.cylinders" name="Cylinders"
    /></ElFormItem>
    <ElFormItem label="Size, cc" :error="faults['machine.displacementCc'] ?? ''"
      ><NumberInput v-model="form.displacementCc" :controls="false" name="Displacement in cc"
    /></ElFormItem>
    <ElFormItem label="Strokes">
      <ElRadioGroup v-model="form.strokes" aria-label="Strokes"
        ><ElRadioButton :value="4">4</ElRadioButton><ElRadioButton :value="2">2</ElRadioButton></ElRadioGroup
      >
    </ElFormItem>
    <ElFormItem label="Blown">
      <ElCheckbox v-model="form.forcedInduction" aria-label="Supercharged or turbocharged"
        >super- or turbocharged</ElCheckbox
      >
    </ElFormItem>
  </div>
  <div class="row">
    <ElFormItem label="Fuel in the tank">
      <ElSelect v-model="form.fuel" aria-label="Fuel in the tank">
        <ElOption
          v-for="fuel in FUELS"
          :key="fuel.id"
          :value="fuel.id"
          :label="`${fuel.name} (${plain(fuel.stoichAfr, 2)})`"
        />
        <ElOption value="custom" label="Another blend" />
      </ElSelect>
    </ElFormItem>
    <ElFormItem v-if="form.fuel === 'custom'" label="AFR at lambda 1" :error="faults['fuel.stoichAfr'] ?? ''">
      <NumberInput v-model="form.stoichAfr" :step="0.1" :precision="2" name="AFR at lambda 1 of the blend" />
    </ElFormItem>
    <ElFormItem label="Gauge shows at lambda 1" :error="faults['gaugeScale'] ?? ''">
      <NumberInput v-model="form.gaugeScale" :step="0.1" :precision="2" name="AFR the gauge shows at lambda 1" />
    </ElFormItem>
    <ElFormItem class="use" label="Use">
      <ElRadioGroup v-model="form.use" aria-label="Use"
        ><ElRadioButton v-for="use in USES" :key="use" :value="use">{{ use }}</ElRadioButton></ElRadioGroup
      >
    </ElFormItem>
  </div>
  <p class="soft hint">
    A gauge that shows AFR shows lambda times its own scale, usually 14.7, whatever is in the tank<template
      v-if="stoich"
    >
      (its own is {{ plain(stoich, 2) }})</template
    >.
  </p>
  <ElFormItem label="What was fitted"
    ><ElInput v-model="form.fitted" type="textarea" :rows="2" maxlength="2000" aria-label="What was fitted"
  /></ElFormItem>
  <div class="row">
    <ElFormItem label="Rider"
      ><ElInput v-model="form.rider" maxlength="120" aria-label="Rider" placeholder="whose machine it is"
    /></ElFormItem>
    <ElFormItem label="Registration or frame number"
      ><ElInput v-model="form.identity" maxlength="120" aria-label="Registration or frame number"
    /></ElFormItem>
    <ElFormItem label="Workshop"
      ><ElInput v-model="form.workshop" maxlength="160" aria-label="Workshop" placeholder="heads the report"
    /></ElFormItem>
    <ElFormItem label="Who does the work"
      ><ElInput v-model="form.tuner" maxlength="120" aria-label="Who does the work" placeholder="named on the report"
    /></ElFormItem>
  </div>
  <ElFormItem label="What the rider complains of, and where"
    ><ElInput v-model="form.complaint" type="textarea" :rows="2" maxlength="2000" aria-label="Complaint"
  /></ElFormItem>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
}
.row > * {
  flex: 1 1 120px;
}
.row > .use {
  flex: none;
}
.hint {
  margin: -4px 0 12px;
  font-size: 13px;
}
</style>
