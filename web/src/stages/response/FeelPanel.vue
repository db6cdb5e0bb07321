<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { placeWords, RIDER_SAYS } from '@yuzumix/core'
import { useHandling } from '@/job/handling'

/** What the rider complained of, and what the test ride felt like. */
const handling = useHandling()
</script>

<template>
  <p v-if="!handling.complaints.length" class="soft">
    Nothing was pinned in the Brief. Pin there what the rider feels; it stands on these charts, and the test ride is
    entered here.
  </p>
  <article v-for="one in handling.complaints" :key="one.id">
    <p><strong>{{ one.word }}</strong> {{ one.text }} <span class="soft">{{ placeWords(one) }}</span></p>
    <ElRadioGroup
      :model-value="one.riderSays ?? ''"
      size="small"
      :disabled="handling.isDone"
      :aria-label="`After the test ride: ${one.word}`"
      @update:model-value="handling.answer(one.id, { riderSays: $event as typeof one.riderSays })"
    >
      <ElRadioButton v-for="word in RIDER_SAYS" :key="word" :value="word">{{ word }}</ElRadioButton>
    </ElRadioGroup>
  </article>
</template>

<style scoped>
article {
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
p {
  margin: 4px 0;
}
</style>
