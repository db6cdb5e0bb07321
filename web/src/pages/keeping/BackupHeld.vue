<script setup lang="ts">
import dayjs from 'dayjs'
import { ElButton } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'

/** The jobs of one backup; each can be brought back beside those that are there. */
const { backup } = defineProps<{ backup: string }>()
const jobs = shallowRef<{ id: string; title: string; createdAt: string }[] | null>(null)
const problem = ref('')
const busy = ref('')
const router = useRouter()
onMounted(async () => {
  try {
    jobs.value = (await api.backupHeld(backup)).jobs
  } catch (error) {
    problem.value = (error as Error).message
  }
})
async function take(job: string): Promise<void> {
  busy.value = job
  try {
    const { job: made } = await api.restoreBackup(backup, { job })
    await router.push({ name: 'mixture', params: { job: made! } })
  } catch (error) {
    notifyProblem(error)
  } finally {
    busy.value = ''
  }
}
</script>

<template>
  <p v-if="problem" role="alert">{{ problem }}</p>
  <p v-else-if="jobs === null" class="soft" role="status">Looking through it …</p>
  <p v-else-if="jobs.length === 0" class="soft">It holds no jobs.</p>
  <ul v-else class="held" aria-label="Jobs in this backup">
    <li v-for="one in jobs" :key="one.id">
      <span>{{ one.title }}</span>
      <span class="soft figures">{{ dayjs(one.createdAt).format('D MMM YYYY') }}</span>
      <ElButton size="small" :loading="busy === one.id" :disabled="busy !== ''" @click="take(one.id)"
        >Bring this one back</ElButton
      >
    </li>
  </ul>
</template>

<style scoped>
.held {
  list-style: none;
  margin: 8px 0;
  padding: 0 0 0 16px;
  display: grid;
  grid-template-columns: minmax(0, max-content) max-content max-content;
  gap: 6px 24px;
  align-items: center;
}
.held li {
  display: contents;
}
@media (max-width: 700px) {
  .held {
    grid-template-columns: minmax(0, 1fr) max-content;
  }
  .held .figures {
    display: none;
  }
}
</style>
