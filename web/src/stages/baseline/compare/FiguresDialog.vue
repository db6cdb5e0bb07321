<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { CORRECTIONS, type CorrectionId, readNumber } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/job/openJob'

const emit = defineEmits<{ close: []; made: [set: string] }>()
const open = useJob()
const display = useDisplay()

const name = ref('Stock machines, entered')
const quantity = ref<'torque' | 'power'>('power')
const correction = ref<CorrectionId>(open.job!.power.correction)
const machines = ref(3)
const text = ref('')

interface Line {
  rpm: number
  mean: number
  spread: number
}
/** Lines of rpm, mean and spread, apart by blanks, tabs or semicolons; decimal commas are taken. */
const read = computed<Line[] | string>(() => {
  const lines = text.value.split('\n').filter((line) => line.trim() !== '')
  const found: Line[] = []
  for (const [k, line] of lines.entries()) {
    const [rpm, mean, spread = 0, ...rest] = line
      .trim()
      .split(/[\s;]+/)
      .map(readNumber)
    if (![rpm, mean, spread].every(Number.isFinite) || rest.length)
      return `Line ${k + 1}: type rpm, mean and spread, for example "6000 31.4 0.8".`
    if (k > 0 && rpm! <= found[k - 1]!.rpm) return `Line ${k + 1}: rpm must rise from line to line.`
    found.push({ rpm: rpm!, mean: mean!, spread })
  }
  return found.length < 2 ? 'Two lines at the least.' : found
})
const unit = computed(() => display.unitOf(quantity.value))

async function save(): Promise<void> {
  if (typeof read.value === 'string') return
  const factor = display.factorOf(quantity.value)
  try {
    const set = await api.addSet(open.job!.id, {
      name: name.value.trim() || 'Stock machines, entered',
      figures: {
        quantity: quantity.value,
        correction: correction.value,
        machines: machines.value,
        rpm: read.value.map((line) => line.rpm),
        mean: read.value.map((line) => line.mean / factor),
        spread: read.value.map((line) => line.spread / factor),
      },
    })
    await open.reloadRuns()
    emit('made', set.id)
    emit('close')
  } catch (error) {
    notifyProblem(error)
  }
}
</script>

<template>
  <ElDialog :model-value="true" title="Figures of stock machines" width="520px" append-to-body @close="emit('close')">
    <div class="form">
      <label>Name <ElInput v-model="name" size="small" maxlength="120" aria-label="Name of the reference" /></label>
      <div class="three">
        <label
          >Figures of
          <ElSelect v-model="quantity" size="small" aria-label="Quantity of the figures">
            <ElOption value="power" :label="`power, ${display.powerUnit}`" />
            <ElOption value="torque" :label="`torque, ${display.torqueUnit}`" />
          </ElSelect>
        </label>
        <label
          >Correction they carry
          <ChoiceSelect
            v-model="correction"
            name="Correction of the figures"
            :choices="CORRECTIONS.map((one) => ({ value: one.id, label: one.name }))"
          />
        </label>
        <label
          >Machines <NumberInput v-model="machines" :min="1" :max="1000" size="small" name="Number of machines"
        /></label>
      </div>
      <label
        >rpm, mean and spread (standard deviation over machines) in {{ unit }}, a line each
        <ElInput
          v-model="text"
          type="textarea"
          :rows="8"
          aria-label="Figures by rpm"
          placeholder="4000 18.2 0.4&#10;6000 27.9 0.6"
        />
      </label>
      <p v-if="typeof read === 'string' && text.trim()" class="fault" role="alert">{{ read }}</p>
    </div>
    <template #footer>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" :disabled="typeof read === 'string'" @click="save">Add the reference</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.form {
  display: grid;
  gap: 10px;
}
.three {
  display: grid;
  grid-template-columns: 1fr 1.2fr 0.8fr;
  gap: 8px;
}
label {
  display: grid;
  gap: 2px;
}
</style>
