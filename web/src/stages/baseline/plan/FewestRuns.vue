<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import type { HelpfulRun } from '@yuzumix/core'
import { nextRunWords, useNextRun } from '@/job/useNextRun'
import { useJob } from '@/job/openJob'
import { counted, plain } from '@/parts/numbers/format'

const open = useJob()
const { answer, problem, asking, ask } = useNextRun(ref(true))

/** Beside the best, which is told first. */
const others = computed(() => answer.value?.ranked.slice(1) ?? [])
const gains = (run: HelpfulRun): string => {
  if (!run.unknown) return `${counted(run.nodes, 'cell')} surer`
  return run.unknown === run.nodes
    ? `${counted(run.nodes, 'cell')} surer, hardly known so far`
    : `${counted(run.nodes, 'cell')} surer, ${run.unknown} of them hardly known so far`
}
const standsOn = computed(() => {
  const from = answer.value?.from
  if (!from?.runs) return ''
  const others = from.runs - from.own
  return others
    ? `From the ${counted(from.own, 'run')} that make the field, and ${others} of the same setup as they would read now.`
    : `From the ${counted(from.own, 'run')} that make the field.`
})
</script>

<template>
  <section class="fewest" aria-label="In the fewest runs">
    <h2>In the fewest runs</h2>
    <p v-if="asking && !answer" class="soft" role="status">Working out what is still in doubt …</p>
    <p v-else-if="problem" class="soft">{{ problem }} <ElButton size="small" @click="ask">Try again</ElButton></p>
    <template v-else-if="answer">
      <p v-if="answer.next">
        <strong>{{ nextRunWords(answer.next) }}</strong>,
        <span class="figures">{{ plain(answer.next.minutes, 1) }} min</span>
      </p>
      <p v-else-if="!answer.enough"><strong>No further run.</strong> Take the change, and measure again.</p>
      <p v-else-if="answer.afterLimits"><strong>Enough for this pass.</strong> Take the change, and measure again.</p>
      <p v-else><strong>Enough.</strong> Take the change; with no new run after it, the range is flat.</p>
      <p class="soft">{{ answer.why }}</p>
      <p v-if="answer.leftOut" class="soft">{{ answer.leftOut }}</p>
      <p v-if="!open.runs.length">Nothing is known of the mixture yet: begin with the first run of the plan.</p>
      <template v-else-if="others.length">
        <h2>What else would help most</h2>
        <ol>
          <li v-for="run in others" :key="`${run.kind} ${run.load} ${run.fromRpm} ${run.toRpm}`">
            <strong>{{ nextRunWords(run) }}</strong>
            <p class="soft">
              {{ gains(run) }}. In <span class="figures">{{ plain(run.minutes, 1) }} min</span> from about
              <span class="figures">±{{ plain(run.halfNow, 1) }} %</span> to
              <span class="figures">±{{ plain(run.halfAfter, 1) }} %</span>.
            </p>
          </li>
        </ol>
      </template>
      <p v-if="standsOn" class="soft small">{{ standsOn }}</p>
      <p class="soft small">
        Told from the field itself: how wide each cell's interval is, how cells hang together, and what one more pass
        takes away per minute. Held cells do not count.
      </p>
    </template>
  </section>
</template>

<style scoped>
.fewest {
  display: grid;
  gap: 4px;
}
ol {
  margin: 0;
  padding-left: 20px;
  display: grid;
  gap: 8px;
}
</style>
