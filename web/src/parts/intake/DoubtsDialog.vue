<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus'
import { ref } from 'vue'
import type { DoubtAnswer } from '@yuzumix/core'
import { useDoubts } from '@/job/doubts'

/** What came in and is not believed before it is cleared, each with the way on. */
const doubts = useDoubts()
const busy = ref(false)

async function take({ runs, offer }: DoubtAnswer): Promise<void> {
  busy.value = true
  await doubts.read(runs, offer!.readAs)
  busy.value = false
}
</script>

<template>
  <ElDialog v-model="doubts.isShown" title="In doubt" width="640">
    <p class="soft">No verdict stands on these readings before each is cleared: mended, read otherwise, or left out.</p>
    <ul>
      <li v-for="one in doubts.list" :key="one.text">
        <p>{{ one.text }}</p>
        <ElButton v-if="one.offer" size="small" type="primary" :loading="busy" @click="take(one)">{{
          one.offer.label
        }}</ElButton>
      </li>
    </ul>
  </ElDialog>
</template>

<style scoped>
ul {
  display: grid;
  gap: 16px;
  padding: 0;
  margin: 12px 0 0;
  list-style: none;
}
li {
  padding-left: 12px;
  border-left: 4px solid var(--alarm);
}
li p {
  margin: 0 0 8px;
}
</style>
