<script setup lang="ts">
import { ElButton, ElProgress } from 'element-plus'
import dayjs from 'dayjs'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { BIN_DAYS, type Job } from '@yuzumix/core'
import { api, formOf } from '@/api/client'
import { saveArchive, sendForm } from '@/api/longWork'
import { notifyDone, notifyProblem, notifyRefused, notifyWithUndo } from '@/api/notify'
import { withReason } from '@/api/withReason'
import FileButton from '@/parts/choose/FileButton.vue'
import NewJobDialog from './NewJobDialog.vue'

const router = useRouter()
const jobs = ref<Job[]>([])
const state = ref<'loading' | 'ready' | 'failed'>('loading')
const problem = ref('')
/** how little room the disk has left; empty where there is enough */
const shortOfRoom = ref('')
const making = ref(false)
/** long work on an archive: what it is, the share that is done, and what ends it */
const work = shallowRef<{ what: string; share: number; end: AbortController } | null>(null)

const active = computed(() => jobs.value.filter((job) => !job.archived))
const archived = computed(() => jobs.value.filter((job) => job.archived))

async function load(): Promise<void> {
  try {
    jobs.value = await api.jobs()
    state.value = 'ready'
  } catch (error) {
    state.value = 'failed'
    problem.value = (error as Error).message
  }
}

/** Beside the jobs: where it cannot be told, they are shown all the same. */
async function lookForRoom(): Promise<void> {
  const space = await api.health().then(
    (health) => health.space,
    () => null,
  )
  shortOfRoom.value = space?.isShort ? space.said : ''
}

async function setArchived(job: Job, value: boolean): Promise<void> {
  try {
    await api.changeJob(job.id, { archived: value })
    await load()
    notifyDone(
      value
        ? `"${job.title}" is in the archive below; take it out any time.`
        : `"${job.title}" is back among the jobs.`,
    )
  } catch (error) {
    notifyProblem(error)
  }
}

/** Puts a job into the bin; where its controller holds a change, or a bench is connected, the reason is asked for. */
async function remove(job: Job): Promise<void> {
  try {
    const done = await withReason(async (why) => {
      await api.deleteJob(job.id, why ? { override: why } : {})
      return true
    })
    if (!done) return
    await load()
    notifyWithUndo(
      `"${job.title}" was deleted. It can be brought back at Safekeeping for ${BIN_DAYS} days.`,
      async () => {
        await api.bringBack(job.id, {})
        await load()
      },
    )
  } catch (error) {
    notifyProblem(error)
  }
}

/** Work that takes as long as the job is large: told, and ended by who is tired of it. */
async function long(
  what: string,
  doIt: (told: (share: number) => void, signal: AbortSignal) => Promise<void>,
): Promise<void> {
  if (work.value) return
  const end = new AbortController()
  work.value = { what, share: 0, end }
  try {
    await doIt((share) => (work.value = { what, share, end }), end.signal)
  } catch (error) {
    if (!end.signal.aborted) notifyRefused(error)
  } finally {
    work.value = null
  }
}
const readArchive = (file: File): Promise<void> =>
  long('Reading the archive', async (told, signal) => {
    const job = await withReason(
      (why) => sendForm('/archives', formOf({ override: why, file }), told, signal) as Promise<Job>,
    )
    if (job) await router.push({ name: 'mixture', params: { job: job.id } })
  })
const exportJob = (job: Job): Promise<void> =>
  long(`Packing "${job.title}"`, (told, signal) => saveArchive(job.id, told, signal))

onMounted(() => Promise.all([load(), lookForRoom()]))
</script>

<template>
  <main class="jobs">
    <div class="head">
      <h1>Jobs</h1>
      <span class="space" />
      <RouterLink :to="{ name: 'shelf' }">Shelf</RouterLink>
      <RouterLink :to="{ name: 'safekeeping' }">Safekeeping</RouterLink>
      <RouterLink :to="{ name: 'sharing' }">Sharing</RouterLink>
      <RouterLink :to="{ name: 'trainer' }">Trainer: machines with a hidden fault</RouterLink>
      <FileButton name="Job archive" accept=".zip" :loading="work !== null" @chosen="readArchive"
        >Read a job archive</FileButton
      >
      <ElButton type="primary" @click="making = true">New job</ElButton>
    </div>
    <div v-if="work" class="work" role="status">
      <span>{{ work.what }}, {{ Math.round(100 * work.share) }} %</span>
      <ElProgress :percentage="Math.round(100 * work.share)" :show-text="false" :aria-label="work.what" />
      <ElButton size="small" @click="work.end.abort()">Cancel</ElButton>
    </div>
    <p v-if="shortOfRoom" role="alert">
      {{ shortOfRoom }}. <RouterLink :to="{ name: 'safekeeping' }">Safekeeping</RouterLink>
    </p>
    <p v-if="state === 'loading'" class="soft" role="status">Loading the jobs …</p>
    <div v-else-if="state === 'failed'" class="empty" role="alert">
      <p>{{ problem }}</p>
      <ElButton @click="load">Try again</ElButton>
    </div>
    <div v-else-if="jobs.length === 0" class="empty">
      <h2>No jobs yet</h2>
      <p>A job is one machine in for one piece of work. Give it a title, then drop a log on it.</p>
      <ElButton type="primary" @click="making = true">Make the first job</ElButton>
      <p class="soft">
        To look around first, stop the server and run <code>npm run demo</code>: it has its own folder and leaves this
        one alone.
      </p>
    </div>
    <template
      v-for="group in [
        { title: '', list: active },
        { title: 'Archive', list: archived },
      ]"
      v-else
      :key="group.title"
    >
      <h2 v-if="group.title && group.list.length">{{ group.title }}</h2>
      <ul v-if="group.list.length" class="list" :aria-label="group.title || 'Jobs in work'">
        <li v-for="job in group.list" :key="job.id" class="card">
          <RouterLink :to="{ name: 'mixture', params: { job: job.id } }" class="title">{{ job.title }}</RouterLink>
          <span class="soft">{{
            [job.machine?.name, job.use, job.machine?.displacementCc && `${job.machine.displacementCc} cc`]
              .filter(Boolean)
              .join(' · ') || 'no machine named'
          }}</span>
          <span class="counts figures"
            >{{ job.runCount }} {{ job.runCount === 1 ? 'run' : 'runs' }} · {{ job.tableCount }}
            {{ job.tableCount === 1 ? 'table' : 'tables' }}</span
          >
          <span class="soft figures">{{ dayjs(job.createdAt).format('D MMM YYYY') }}</span>
          <span class="acts">
            <ElButton size="small" :disabled="work !== null" :aria-label="`Export ${job.title}`" @click="exportJob(job)"
              >Export</ElButton
            >
            <ElButton size="small" @click="setArchived(job, !job.archived)">{{
              job.archived ? 'Take out' : 'Archive'
            }}</ElButton>
            <ElButton size="small" :aria-label="`Delete ${job.title}`" @click="remove(job)">Delete</ElButton>
          </span>
          <p v-if="job.complaint" class="complaint">{{ job.complaint }}</p>
        </li>
      </ul>
    </template>
    <NewJobDialog v-model="making" />
  </main>
</template>

<style scoped>
.work {
  display: grid;
  grid-template-columns: auto minmax(80px, 1fr) auto;
  gap: 16px;
  align-items: center;
}
.jobs {
  flex: 1;
  overflow-y: auto;
  padding: 24px max(24px, calc(50vw - 560px));
  display: flex;
  flex-direction: column;
  gap: 16px;
}
.head {
  display: flex;
  gap: 8px;
  align-items: center;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
.card {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 2fr) 150px 110px 220px;
  gap: 4px 16px;
  align-items: center;
  padding: 12px 16px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
.card > * {
  overflow: hidden;
  text-overflow: ellipsis;
}
.title {
  font-weight: 700;
  font-size: 16px;
}
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: flex-end;
  padding: 2px;
}
.acts :deep(.el-button + .el-button) {
  margin-left: 0;
}
/* On a phone a job is read from top to bottom. */
@media (max-width: 700px) {
  .jobs {
    padding: 16px 12px;
  }
  .head {
    flex-wrap: wrap;
  }
  .card {
    grid-template-columns: minmax(0, 1fr);
  }
  .title,
  .card > .soft {
    overflow-wrap: anywhere;
  }
  .acts {
    justify-content: flex-start;
  }
}
.complaint {
  grid-column: 1 / -1;
  color: var(--soft);
}
.empty {
  display: grid;
  gap: 12px;
  justify-items: start;
  padding: 32px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
</style>
