<script setup lang="ts">
import { computed } from 'vue'
import { stopName, type HelpfulRun, type RunPlan } from '@yuzumix/core'
import { nextRunWords } from '@/job/useNextRun'
import FewestRuns from './FewestRuns.vue'
import { counted, grouped, plain, signed } from '@/parts/numbers/format'

const props = defineProps<{ answer: RunPlan | null }>()

/** Beside the best, which is told first. */
const others = computed(() => props.answer?.next.slice(1) ?? [])
const why = (run: HelpfulRun): string =>
  `${counted(run.nodes, 'cell')} surer${run.unknown ? `, ${run.unknown} of them hardly known` : ''}`
</script>

<template>
  <div class="panel">
    <FewestRuns />
    <template v-if="answer">
      <h2 v-if="answer.note || others.length">What else would help most</h2>
      <p v-if="answer.note">{{ answer.note }}</p>
      <ol v-else>
        <li v-for="run in others" :key="`${run.kind} ${run.load} ${run.fromRpm} ${run.toRpm}`">
          <strong>{{ nextRunWords(run) }}</strong>
          <p class="soft">
            {{ why(run) }}. In <span class="figures">{{ plain(run.minutes, 1) }} min</span> from about
            <span class="figures">±{{ plain(run.halfNow, 1) }} %</span> to
            <span class="figures">±{{ plain(run.halfAfter, 1) }} %</span>.
          </p>
        </li>
      </ol>
      <template v-if="answer.again.length">
        <h2>To be measured again</h2>
        <ul>
          <li v-for="one in answer.again" :key="`${one.what} ${one.stop} ${one.fromRpm}`">
            <strong>{{ one.what === 'mixture' ? 'Sweep' : 'Spark step' }} at {{ stopName(one.stop) }}</strong>
            <p class="soft figures">
              {{
                one.what === 'mixture'
                  ? `${grouped(one.fromRpm)} to ${grouped(one.toRpm)} rpm: spark moved by ${signed(one.moved)}°`
                  : `${grouped(one.fromRpm)} rpm: the mixture moved by ${signed(one.moved)} %`
              }}
            </p>
          </li>
        </ul>
        <p class="soft small">
          Mixture and spark pull on each other: after one has moved, the other is measured again.
        </p>
      </template>
      <p class="soft small">
        Told from the field itself: how wide each cell's interval is, how cells hang together, and what one more pass
        takes away per minute. Held cells do not count.
      </p>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  padding-top: 12px;
}
ol,
ul {
  margin: 0;
  padding-left: 20px;
  display: grid;
  gap: 8px;
}
.small {
  font-size: 12px;
}
</style>
