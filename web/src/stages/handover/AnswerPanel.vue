<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { placeWords, findingOf, FOUND, RIDER_SAYS, type Complaint, type FieldAnswer } from '@yuzumix/core'
import { api } from '@/api/client'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'

/** Each complaint with what the last runs show there, what was done, and what the rider says afterwards. */
const open = useJob()
const handling = useHandling()
const field = shallowRef<FieldAnswer | null>(null)
onMounted(async () => {
  // Without runs nothing is shown there, and that is said.
  field.value = await api.field(open.job!.id).catch(() => null)
})
/** what is being typed, by complaint, until it is saved as the field is left */
const typed = ref<Record<string, string>>({})
async function saveDone(id: string): Promise<void> {
  const text = typed.value[id]?.trim()
  if (text !== undefined) await handling.answer(id, { done: text || null })
  delete typed.value[id]
}
const finding = (one: Complaint) => findingOf(one, field.value)
</script>

<template>
  <h2>Complaints</h2>
  <p v-if="!handling.complaints.length" class="soft">None was pinned.</p>
  <article v-for="one in handling.complaints" :key="one.id">
    <p><strong>{{ one.word }}</strong> {{ one.text }} <span class="soft figures">{{ placeWords(one) }}</span></p>
    <p>
      {{ finding(one).said }}
      <ElButton
        v-if="one.found !== finding(one).found && !handling.isDone"
        size="small"
        @click="handling.answer(one.id, { found: finding(one).found })"
        >Take that as found</ElButton
      >
    </p>
    <label>
      found
      <ElSelect
        :model-value="one.found ?? ''"
        size="small"
        placeholder="not said"
        :disabled="handling.isDone"
        :aria-label="`Found for ${one.word}`"
        @update:model-value="handling.answer(one.id, { found: $event })"
      >
        <ElOption v-for="word in FOUND" :key="word" :value="word" :label="word" />
      </ElSelect>
    </label>
    <ElInput
      :model-value="typed[one.id] ?? one.done ?? ''"
      size="small"
      maxlength="500"
      placeholder="what was done"
      :disabled="handling.isDone"
      :aria-label="`Done about ${one.word}`"
      @update:model-value="typed[one.id] = $event"
      @change="saveDone(one.id)"
    />
    <ElRadioGroup
      :model-value="one.riderSays ?? ''"
      size="small"
      :disabled="handling.isDone"
      :aria-label="`The rider says of ${one.word}`"
      @update:model-value="handling.answer(one.id, { riderSays: $event as Complaint['riderSays'] })"
    >
      <ElRadioButton v-for="word in RIDER_SAYS" :key="word" :value="word">{{ word }}</ElRadioButton>
    </ElRadioGroup>
    <ElCheckbox
      :model-value="one.leftOpen ?? false"
      :disabled="handling.isDone"
      label="left open, knowingly"
      size="small"
      @update:model-value="handling.answer(one.id, { leftOpen: Boolean($event) })"
    />
  </article>
</template>

<style scoped>
article {
  display: grid;
  gap: 6px;
  width: 100%;
  padding: 8px 10px;
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow-wrap: anywhere;
}
label {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 8px;
  align-items: center;
}
</style>
