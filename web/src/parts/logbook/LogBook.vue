<script setup lang="ts">
import dayjs from 'dayjs'
import { ElButton, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, onMounted, ref } from 'vue'
import type { Entry } from '@yuzumix/core'
import { urls } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import { grouped } from '@/parts/numbers/format'
import NoteDialog from './NoteDialog.vue'

/** The logbook of the open job: acts of the application and notes of people. */
const open = useJob()
const handling = useHandling()
// Acts of other stages have written since.
onMounted(() => handling.reload(open.job!.id).catch(notifyProblem))
const kind = ref<'all' | 'note' | 'act'>('all')
const wanted = ref('')
const writing = ref(false)
const shown = computed(() => {
  const words = wanted.value.trim().toLowerCase()
  return handling.entries.filter(
    (one) =>
      (kind.value === 'all' || one.kind === kind.value) &&
      (!words || `${one.act} ${one.text}`.toLowerCase().includes(words)),
  )
})
const pinned = ({ run, rpm, load }: Entry): string =>
  [
    open.runs.find((one) => one.id === run)?.name ?? '',
    rpm === null ? '' : `${grouped(rpm)} rpm`,
    load === null ? '' : `load ${load}`,
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div class="book">
    <div class="bar">
      <ElRadioGroup v-model="kind" size="small" aria-label="Lines shown">
        <ElRadioButton value="all">All</ElRadioButton>
        <ElRadioButton value="note">Notes</ElRadioButton>
        <ElRadioButton value="act">Acts</ElRadioButton>
      </ElRadioGroup>
      <ElButton size="small" @click="writing = true">Note (n)</ElButton>
    </div>
    <ElInput v-model="wanted" size="small" clearable placeholder="Search the logbook" aria-label="Search the logbook" />
    <p v-if="handling.entries.length && !shown.length" class="soft">Nothing in the logbook says that.</p>
    <ol class="entries">
      <li v-for="entry in shown" :key="entry.id">
        <span class="figures soft">{{ dayjs(entry.at).format('D MMM HH:mm') }}</span>
        <div>
          <strong>{{ entry.act }}</strong> {{ entry.text }}
          <span v-if="pinned(entry)" class="soft figures">({{ pinned(entry) }})</span>
          <a v-if="entry.photo" :href="urls.photo(open.job!.id, entry.id)" target="_blank">
            <img :src="urls.photo(open.job!.id, entry.id)" :alt="`Photo: ${entry.text}`" loading="lazy" />
          </a>
        </div>
      </li>
    </ol>
    <NoteDialog v-model="writing" />
  </div>
</template>

<style scoped>
.book {
  display: grid;
  gap: 8px;
  align-content: start;
}
.bar {
  display: flex;
  gap: 12px;
  justify-content: space-between;
}
.entries {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
.entries li {
  display: grid;
  grid-template-columns: 104px 1fr;
  overflow-wrap: anywhere;
}
img {
  display: block;
  max-width: 100%;
  max-height: 140px;
  margin-top: 4px;
  border-radius: 4px;
}
</style>
