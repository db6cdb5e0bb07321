<script setup lang="ts">
import dayjs from 'dayjs'
import { ElButton, ElMessageBox } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { RouterLink } from 'vue-router'
import { BIN_DAYS, type Backup, type Backups, type BinnedJob } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { counted, plain } from '@/parts/numbers/format'
import BackupHeld from './BackupHeld.vue'

/** Copies of everything, and what was deleted lately. */
const held = shallowRef<Backups | null>(null)
const bin = shallowRef<BinnedJob[]>([])
const space = ref('')
const isShort = ref(false)
const problem = ref('')
const busy = ref('')
const opened = ref('')

async function load(): Promise<void> {
  try {
    const [backups, binned, health] = await Promise.all([api.backups(), api.bin(), api.health()])
    ;[held.value, bin.value, problem.value] = [backups, binned, '']
    ;[space.value, isShort.value] = [health.space.said, health.space.isShort]
  } catch (error) {
    problem.value = (error as Error).message
  }
}
onMounted(load)

/** Does one act at a time, tells how it went, and looks anew. */
async function act(name: string, work: () => Promise<string>): Promise<void> {
  busy.value = name
  try {
    notifyDone(await work())
  } catch (error) {
    notifyProblem(error)
  } finally {
    busy.value = ''
    await load()
  }
}
const makeBackup = (): Promise<void> =>
  act('make', async () => `Copied and checked: ${megabytes(await api.makeBackup({}))}.`)

async function restore(one: Backup): Promise<void> {
  const isSure = await ElMessageBox.confirm(
    `Everything goes back to ${when(one.at)}. What is there now is copied first, and can be restored the same way.`,
    'Restore all of it?',
    { confirmButtonText: 'Restore all of it', cancelButtonText: 'Leave it' },
  ).catch(() => false)
  if (!isSure) return
  await act(one.name, async () => {
    await api.restoreBackup(one.name, {})
    return `Everything is as it was on ${when(one.at)}.`
  })
}
const bringBack = ({ id, title }: BinnedJob): Promise<void> =>
  act(id, async () => {
    await api.bringBack(id, {})
    return `"${title}" is back among the jobs.`
  })
async function drop({ id, title }: BinnedJob): Promise<void> {
  const isSure = await ElMessageBox.confirm(`"${title}" goes with all its runs and tables.`, 'Delete it for good?', {
    confirmButtonText: 'Delete it for good',
    cancelButtonText: 'Leave it',
  }).catch(() => false)
  if (!isSure) return
  await act(id, async () => {
    await api.dropBinned(id)
    return `"${title}" is gone.`
  })
}
const when = (at: string): string => dayjs(at).format('D MMM YYYY, HH:mm')
const megabytes = ({ bytes }: Backup): string => `${plain(bytes / 1e6, 1)} MB`
</script>

<template>
  <main class="keeping">
    <div class="bar">
      <h1>Safekeeping</h1>
      <span class="space" />
      <ElButton type="primary" :loading="busy === 'make'" :disabled="busy !== ''" @click="makeBackup"
        >Back up now</ElButton
      >
    </div>
    <p v-if="problem" role="alert">{{ problem }} <ElButton size="small" @click="load">Try again</ElButton></p>
    <p v-else-if="held === null" class="soft" role="status">Looking …</p>
    <template v-else>
      <p :class="{ short: isShort }">Room on the disk: {{ space }}.</p>
      <section>
        <h2>Backups</h2>
        <p class="soft">
          One is made every day the workshop works, and before anything that changes all of it. {{ held.keeping }} They
          lie in the folder "backups" beside the data: copy them elsewhere, too.
        </p>
        <p v-if="held.backups.length === 0">None yet. "Back up now" makes the first.</p>
        <ul v-else class="list" aria-label="Backups">
          <li v-for="one in held.backups" :key="one.name">
            <div class="line">
              <strong class="figures">{{ when(one.at) }}</strong>
              <span class="soft">{{ one.kind }}</span>
              <span class="soft figures">{{ megabytes(one) }}</span>
              <span class="space" />
              <ElButton
                size="small"
                :aria-expanded="opened === one.name"
                @click="opened = opened === one.name ? '' : one.name"
                >What it holds</ElButton
              >
              <ElButton size="small" :loading="busy === one.name" :disabled="busy !== ''" @click="restore(one)"
                >Restore all of it</ElButton
              >
            </div>
            <BackupHeld v-if="opened === one.name" :backup="one.name" />
          </li>
        </ul>
      </section>
      <section>
        <h2>Deleted jobs</h2>
        <p v-if="bin.length === 0" class="soft">
          None. A job that is deleted can be brought back here for {{ BIN_DAYS }} days.
        </p>
        <ul v-else class="list" aria-label="Deleted jobs">
          <li v-for="one in bin" :key="one.id" class="line">
            <strong>{{ one.title }}</strong>
            <span class="soft figures">deleted {{ when(one.deletedAt) }}</span>
            <span class="soft figures"
              >goes in {{ counted(Math.max(0, dayjs(one.goneAt).diff(dayjs(), 'day')), 'day') }}</span
            >
            <span class="space" />
            <ElButton size="small" :disabled="busy !== ''" @click="bringBack(one)">Bring back</ElButton>
            <ElButton size="small" :disabled="busy !== ''" @click="drop(one)">Delete for good</ElButton>
          </li>
        </ul>
      </section>
      <RouterLink to="/">To the jobs</RouterLink>
    </template>
  </main>
</template>

<style scoped>
.keeping {
  flex: 1;
  overflow-y: auto;
  padding: 24px max(24px, calc(50vw - 560px));
  display: grid;
  gap: 16px;
  align-content: start;
}
.bar,
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
}
.space {
  flex: 1;
}
.list {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
.list > li {
  padding: 8px 16px;
}
.list > li + li {
  border-top: 1px solid var(--line);
}
.line strong {
  overflow-wrap: anywhere;
}
.line :deep(.el-button + .el-button) {
  margin-left: 0;
}
.short {
  font-weight: 700;
}
@media (max-width: 700px) {
  .keeping {
    padding: 16px 12px;
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
