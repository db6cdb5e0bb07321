<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { placeWords, FOUND, RIDER_SAYS, type Complaint, type FoundThere } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { api } from '@/api/client'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'

/** Each complaint with what was measured there, then and now, what was done, and what the rider says afterwards. */
const open = useJob()
const handling = useHandling()
const there = shallowRef<ReadonlyMap<string, FoundThere>>(new Map())
const isLooking = ref(true)
onMounted(async () => {
  // Without runs nothing is shown there, and that is said.
  const found = await api.complaintFindings(open.job!.id).catch(() => [])
  there.value = new Map(found.map((one) => [one.complaint, one]))
  isLooking.value = false
})
/** what is being typed, by complaint, until it is saved as the field is left */
const typed = ref<Record<string, string>>({})
async function saveDone(id: string): Promise<void> {
  const text = typed.value[id]?.trim()
  if (text !== undefined) await handling.answer(id, { done: text || null })
  delete typed.value[id]
}
const then = (one: Complaint) => there.value.get(one.id)?.then ?? null
const now = (one: Complaint) => there.value.get(one.id)?.now ?? null
</script>

<template>
  <h2>Complaints</h2>
  <p v-if="!handling.complaints.length" class="soft">None was pinned.</p>
  <article v-for="one in handling.complaints" :key="one.id">
    <p><strong>{{ one.word }}</strong> {{ one.text }} <span class="soft figures">{{ placeWords(one) }}</span></p>
    <p>
      <template v-if="then(one)"><span class="soft">{{ then(one)!.state }}:</span> {{ then(one)!.said }}</template>
      <template v-else>{{ isLooking ? 'Looking …' : 'Nothing was measured there.' }}</template>
      <ElButton
        v-if="then(one) && one.found !== then(one)!.found && !handling.isDone"
        size="small"
        @click="handling.answer(one.id, { found: then(one)!.found })"
        >Take that as found</ElButton
      >
    </p>
    <p v-if="now(one)"><span class="soft">now, {{ now(one)!.state }}:</span> {{ now(one)!.said }}</p>
    <label>
      found
      <ChoiceSelect
        :model-value="one.found"
        placeholder="not said"
        :disabled="handling.isDone"
        :name="`Found for ${one.word}`"
        @update:model-value="handling.answer(one.id, { found: $event })"
        :choices="FOUND"
      />
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
