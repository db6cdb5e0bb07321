<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { inForceFault, inForceWords, RULED_BY, type InForce } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'

/** Where a map is in force on a controller with several; always, where it holds one. Told once it makes sense. */
const model = defineModel<InForce | null>({ required: true })
defineProps<{ disabled?: boolean }>()
const ALWAYS = 'always'
const by = ref<InForce['by'] | typeof ALWAYS>(model.value?.by ?? ALWAYS)
const from = ref<number | null | undefined>(model.value?.from)
const to = ref<number | null | undefined>(model.value?.to)
watch(model, (now) => ([by.value, from.value, to.value] = [now?.by ?? ALWAYS, now?.from, now?.to]))
const WORDS = { throttle: 'by throttle, %', manifold: 'by pressure, kPa', rpm: 'by rpm' } as const
const choices = [
  { value: ALWAYS, label: 'always in force' },
  ...RULED_BY.map((value) => ({ value, label: WORDS[value] })),
]
const rule = computed<InForce | null>(() =>
  by.value === ALWAYS ? null : { by: by.value, from: from.value ?? null, to: to.value ?? null },
)
const fault = computed(() => (rule.value ? inForceFault(rule.value) : null))
function take(): void {
  if (fault.value === null && JSON.stringify(rule.value) !== JSON.stringify(model.value)) model.value = rule.value
}
function choose(next: InForce['by'] | typeof ALWAYS): void {
  by.value = next
  ;[from.value, to.value] = [null, null]
  take()
}
</script>

<template>
  <div class="in-force">
    <ChoiceSelect
      :model-value="by"
      name="When the table is in force"
      :choices="choices"
      :disabled="disabled"
      @update:model-value="choose($event as InForce['by'] | 'always')"
    />
    <template v-if="by !== 'always'">
      <span>from</span>
      <NumberInput v-model="from" name="In force from" size="small" :min="0" :max="30000" @change="take" />
      <span>to</span>
      <NumberInput v-model="to" name="In force up to" size="small" :min="0" :max="30000" @change="take" />
    </template>
    <p v-if="by !== 'always'" class="soft">
      {{
        fault
          ? 'Say from where, up to where, or both.'
          : `${inForceWords(rule!)}: other readings are not booked to it. Where two maps overlap they cross over.`
      }}
    </p>
  </div>
</template>

<style scoped>
.in-force {
  display: grid;
  grid-template-columns: minmax(140px, 1fr) auto 84px auto 84px;
  gap: 4px 6px;
  align-items: center;
  margin-bottom: 8px;
}
.in-force > :first-child:nth-last-child(1) {
  grid-column: 1 / -1;
}
p {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
