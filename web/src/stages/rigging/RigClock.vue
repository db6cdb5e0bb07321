<script setup lang="ts">
import { useIntervalFn, useStorage } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'

/** A clock for rigging and one for taking off; it goes on through a reload, and its minutes are kept with the job. */
const open = useJob()
const running = useStorage<{ what: 'rigging' | 'takingOff'; since: number } | null>(
  `yuzumix.rig.${open.job!.id}.clock`,
  null,
  undefined,
  { serializer: { read: (text) => JSON.parse(text) as never, write: (value) => JSON.stringify(value) } },
)
const now = ref(Date.now())
useIntervalFn(() => (now.value = Date.now()), 5000)
const minutes = computed(() => (running.value ? Math.max(0, (now.value - running.value.since) / 60_000) : 0))
const FIELDS = { rigging: 'riggingMinutes', takingOff: 'takingOffMinutes' } as const

function start(what: 'rigging' | 'takingOff'): void {
  now.value = Date.now()
  running.value = { what, since: now.value }
}
async function stop(): Promise<void> {
  const { what, since } = running.value!
  const field = FIELDS[what]
  const before = open.job!.rigging?.[field] ?? 0
  const total = Math.min(1440, Math.round(10 * (before + (Date.now() - since) / 60_000)) / 10)
  try {
    await open.change({ rigging: { ...open.job!.rigging, [field]: total } })
    running.value = null
  } catch (error) {
    notifyProblem(error)
  }
}
const taken = computed(() =>
  [
    open.job!.rigging?.riggingMinutes != null && `rigged in ${open.job!.rigging.riggingMinutes} min`,
    open.job!.rigging?.takingOffMinutes != null && `off in ${open.job!.rigging.takingOffMinutes} min`,
  ]
    .filter(Boolean)
    .join(', '),
)
</script>

<template>
  <span class="soft figures">{{ taken }}</span>
  <template v-if="running">
    <span class="figures"
      >{{ running.what === 'rigging' ? 'rigging' : 'taking off' }} {{ Math.floor(minutes) }} min</span
    >
    <ElButton size="small" type="primary" @click="stop">Stop the clock</ElButton>
  </template>
  <template v-else>
    <ElButton size="small" @click="start('rigging')">Clock: rigging</ElButton>
    <ElButton size="small" @click="start('takingOff')">Clock: taking off</ElButton>
  </template>
</template>
