<script setup lang="ts">
import dayjs from 'dayjs'
import { ElButton } from 'element-plus'
import { useEventListener } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { RouterView, useRoute, useRouter } from 'vue-router'
import { useIntake } from '@/job/intake'
import { useNews } from '@/job/news'
import { useJob } from '@/job/openJob'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { actOf, isTyping } from '@/parts/keys/keymap'
import ImportDialog from '@/parts/intake/ImportDialog.vue'
import NoteDialog from '@/parts/logbook/NoteDialog.vue'
import StageLine from './StageLine.vue'
import { STAGES } from './stages'

const route = useRoute()
const router = useRouter()
const open = useJob()
const intake = useIntake()
const noting = ref(false)
async function reopen(): Promise<void> {
  try {
    open.putJob(await api.reopen(open.job!.id))
  } catch (error) {
    notifyProblem(error)
  }
}

useNews(computed(() => String(route.params['job'] ?? '')))
watch(
  () => route.params['job'],
  (id) => typeof id === 'string' && void open.load(id),
  { immediate: true },
)

useEventListener('keydown', (event) => {
  const pressed = actOf('everywhere', event)
  if (pressed === 'note' && open.job && !isTyping(event)) {
    event.preventDefault()
    noting.value = true
  }
  const stage = pressed === 'stage' && STAGES[Number(event.key) - 1]
  if (!stage) return
  event.preventDefault()
  void router.push({ name: stage.id, params: { job: route.params['job'] } })
})
</script>

<template>
  <StageLine v-if="open.job" />
  <p v-if="open.job?.doneAt" class="done" role="status">
    Handed over {{ dayjs(open.job.doneAt).format('D MMM YYYY') }}: read-only.
    <ElButton size="small" @click="reopen">Reopen</ElButton>
  </p>
  <NoteDialog v-if="open.job" v-model="noting" />
  <ImportDialog v-if="open.job" v-model="intake.files" />
  <p v-if="open.state === 'loading' && !open.job" class="state soft" role="status">Opening the job …</p>
  <div v-else-if="open.state === 'missing'" class="state">
    <h1>There is no such job</h1>
    <p>It may have been deleted. <RouterLink to="/">See all jobs</RouterLink></p>
  </div>
  <div v-else-if="open.state === 'failed' && !open.job" class="state" role="alert">
    <h1>The job cannot be opened</h1>
    <p>{{ open.problem }}</p>
    <ElButton @click="open.load(String(route.params['job']))">Try again</ElButton>
  </div>
  <main v-else-if="open.job" class="stage">
    <RouterView :key="open.job.id" />
  </main>
</template>

<style scoped>
.done {
  flex: none;
  padding: 4px 16px;
  background: var(--yuzu-soft);
  border-bottom: 1px solid var(--line);
}
.stage {
  flex: 1;
  min-height: 0;
}
.state {
  padding: 48px;
  display: grid;
  gap: 12px;
  justify-items: start;
}
</style>
