<script setup lang="ts">
import { ElButton, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import { placeWords, COMPLAINT_WORDS, type Complaint } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import PinPad from '@/parts/pins/PinPad.vue'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'

const open = useJob()
const handling = useHandling()
const highest = computed(
  () => open.job!.limits?.revCeiling ?? Math.max(10_000, ...open.runs.map((run) => run.facts?.toRpm ?? 0)),
)

const NOWHERE = { fromRpm: null, toRpm: null, fromThrottle: null, toThrottle: null }
const word = ref<Complaint['word']>('hesitates')
const text = ref('')
const span = ref<{
  fromRpm: number | null
  toRpm: number | null
  fromThrottle: number | null
  toThrottle: number | null
}>({ ...NOWHERE })
const gear = ref<number>()
const temperature = ref<'' | 'hot' | 'cold'>('')
const ENDS = [
  ['fromRpm', 'from', 'rpm', 30000],
  ['toRpm', 'to', 'rpm', 30000],
  ['fromThrottle', 'from', '% throttle', 100],
  ['toThrottle', 'to', '% throttle', 100],
] as const

/** complaint that is being changed; empty for a new one */
const changing = ref('')
function edit(one: Complaint): void {
  changing.value = one.id
  word.value = one.word
  text.value = one.text ?? ''
  const { fromRpm = null, toRpm = null, fromThrottle = null, toThrottle = null } = one
  span.value = { fromRpm, toRpm, fromThrottle, toThrottle }
  gear.value = one.gear ?? undefined
  temperature.value = one.temperature ?? ''
}
function clear(): void {
  changing.value = ''
  ;[text.value, span.value, gear.value, temperature.value] = ['', { ...NOWHERE }, undefined, '']
}
async function pin(): Promise<void> {
  const said = {
    word: word.value,
    ...((text.value.trim() || changing.value) && { text: text.value.trim() }),
    ...span.value,
    gear: gear.value ?? null,
    temperature: temperature.value || null,
  }
  const made = await (changing.value ? handling.answer(changing.value, said) : handling.pin(said))
  if (made) clear()
}
</script>

<template>
  <div class="panel">
    <p class="soft">
      What the rider feels, and where: drag over the ruler, or type. It shows through every stage and is answered at
      hand-over.
    </p>
    <form class="new" @submit.prevent="pin">
      <div class="line">
        <ChoiceSelect size="default" v-model="word" name="Complaint" class="word" :choices="COMPLAINT_WORDS" />
        <ElInput v-model="text" maxlength="500" aria-label="In the rider's words" placeholder="in the rider's words" />
      </div>
      <PinPad v-model="span" :highest="highest" :pins="handling.complaints" />
      <div class="ends">
        <label v-for="[field, end, unit, most] in ENDS" :key="field">
          {{ end }}
          <NumberInput
            :model-value="span[field] ?? undefined"
            :min="0"
            :max="most"
            :controls="false"
            size="small"
            :name="`${end} ${unit}`"
            @update:model-value="span = { ...span, [field]: $event ?? null }"
          />
          {{ unit }}
        </label>
      </div>
      <div class="line">
        <label>gear <NumberInput v-model="gear" :min="1" :max="12" :precision="0" size="small" name="Gear" /></label>
        <ElRadioGroup v-model="temperature" size="small" aria-label="Hot or cold">
          <ElRadioButton value="">hot or cold</ElRadioButton>
          <ElRadioButton value="hot">hot</ElRadioButton>
          <ElRadioButton value="cold">cold</ElRadioButton>
        </ElRadioGroup>
        <span class="space" />
        <ElButton @click="span = { ...NOWHERE }">Not there</ElButton>
        <ElButton v-if="changing" @click="clear">Leave it as it was</ElButton>
        <ElButton type="primary" native-type="submit">{{
          changing ? 'Save the complaint' : 'Pin the complaint'
        }}</ElButton>
      </div>
    </form>
    <ul class="cards" aria-label="Complaints">
      <li v-for="one in handling.complaints" :key="one.id">
        <strong>{{ one.word }}</strong>
        <span>{{ one.text }} <span class="soft figures">{{ placeWords(one) || 'anywhere' }}</span></span>
        <span class="acts">
          <ElButton size="small" :disabled="handling.isDone" :aria-label="`Change ${one.word}`" @click="edit(one)"
            >Change</ElButton
          >
          <ElButton size="small" :aria-label="`Take back ${one.word}`" @click="handling.unpin(one.id)"
            >Take back</ElButton
          >
        </span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.panel,
.new {
  display: grid;
  gap: 12px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
}
.line label {
  display: flex;
  gap: 6px;
  align-items: center;
  white-space: nowrap;
}
.word {
  width: 150px;
}
.line > .el-input {
  flex: 1;
}
.ends {
  display: grid;
  grid-template-columns: repeat(2, max-content);
  gap: 8px 24px;
}
.ends label {
  display: grid;
  grid-template-columns: 40px auto auto;
  gap: 6px;
  align-items: center;
}
.acts {
  display: flex;
  white-space: nowrap;
}
</style>
