<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import type { Verdict } from '@yuzumix/core'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import { counted } from '@/parts/numbers/format'

/** Does it need a retune, and how deep? */
const open = useJob()
const id = open.job!.id
const verdict = shallowRef<Verdict | null>(null)
const problem = ref('')
let round = 0
async function ask(): Promise<void> {
  const mine = ++round
  try {
    const found = await api.verdict(id)
    if (mine === round) [verdict.value, problem.value] = [found, '']
  } catch (error) {
    if (mine === round) problem.value = (error as Error).message
  }
}
onMounted(ask)
watch(() => [open.job?.changed, open.job?.limits, open.runs], ask)

const headline = computed(() => {
  const now = verdict.value
  if (!now) return 'Looking …'
  if (now.enough) return 'Good enough: stop'
  if (now.retune === null) return 'Not known before it is measured'
  return now.retune ? `Needs a retune${now.level ? `: ${now.level}` : ''}` : 'Usually no retune'
})
const sold = computed(() => open.job?.service)
</script>

<template>
  <div class="panel">
    <h2 role="status">{{ headline }}</h2>
    <p v-if="verdict?.state" class="soft">Of {{ verdict.state }}.</p>
    <p v-if="problem" role="alert">{{ problem }} <ElButton size="small" @click="ask">Try again</ElButton></p>
    <ul v-if="verdict">
      <li v-for="why in verdict.why" :key="why">{{ why }}</li>
    </ul>
    <template v-if="verdict?.findings.length">
      <h3>What the runs show beside it</h3>
      <ul>
        <li v-for="one in verdict.findings" :key="one">{{ one }}</li>
      </ul>
    </template>
    <h3>Levels of service</h3>
    <article v-for="one in verdict?.levels ?? []" :key="one.level" :class="{ chosen: sold === one.level }">
      <div class="head">
        <strong>{{ one.level }}</strong>
        <span class="figures">{{ counted(one.runs, 'run') }}, {{ Math.round(one.minutes) }} min</span>
        <ElButton
          size="small"
          :disabled="sold === one.level"
          @click="open.choose({ service: one.level as NonNullable<typeof sold> })"
          >{{ sold === one.level ? 'Sold' : 'Sell this' }}</ElButton
        >
      </div>
      <p class="soft">Not measured: {{ one.unmeasured }}</p>
      <p class="soft">Next: {{ one.next }}</p>
    </article>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
ul {
  margin: 0;
  padding-left: 18px;
}
article {
  padding: 8px 10px;
  border: 1px solid var(--line);
  border-radius: 6px;
  font-size: 13px;
}
.chosen {
  border-color: var(--leaf);
}
.head {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 12px;
  align-items: center;
}
</style>
