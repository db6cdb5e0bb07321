<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref, shallowRef, watch } from 'vue'
import type { NextAnswer } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import { grouped, plain } from '@/parts/numbers/format'

/** The run that takes most doubt away per minute, asked anew when runs or tables changed. */
const open = useJob()
const answer = shallowRef<NextAnswer | null>(null)
const problem = ref('')
const asking = ref(false)
let round = 0
async function ask(): Promise<void> {
  const mine = ++round
  asking.value = true
  problem.value = ''
  try {
    const found = await api.nextRun(open.job!.id)
    if (mine === round) answer.value = found
  } catch (error) {
    if (mine === round) [answer.value, problem.value] = [null, (error as Error).message]
  } finally {
    if (mine === round) asking.value = false
  }
}
watch(
  () => [open.job?.id, open.runs.length, ...open.fuelTables.map((one) => one.revisions.length)].join(),
  () => open.job && ask(),
  { immediate: true },
)
const told = ({ kind, load, fromRpm, toRpm }: NonNullable<NextAnswer['next']>): string =>
  kind === 'hold'
    ? `Hold at ${load} %, ${grouped(fromRpm)} rpm`
    : `Sweep ${toRpm < fromRpm ? 'down ' : ''}at ${load} %, ${grouped(fromRpm)} to ${grouped(toRpm)} rpm`
</script>

<template>
  <section class="fewest" aria-label="In the fewest runs">
    <h2>In the fewest runs</h2>
    <p v-if="asking && !answer" class="soft" role="status">Working out what is still in doubt …</p>
    <p v-else-if="problem" class="soft">{{ problem }} <ElButton size="small" @click="ask">Try again</ElButton></p>
    <template v-else-if="answer">
      <p v-if="answer.next">
        <strong>{{ told(answer.next) }}</strong>, <span class="figures">{{ plain(answer.next.minutes, 1) }} min</span>
      </p>
      <p v-else><strong>Enough.</strong> Take the change; with no new run after it, the range is flat.</p>
      <p class="soft">{{ answer.why }}</p>
    </template>
  </section>
</template>

<style scoped>
.fewest {
  display: grid;
  gap: 4px;
}
</style>
