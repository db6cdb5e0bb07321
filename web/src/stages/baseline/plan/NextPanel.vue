<script setup lang="ts">
import { stopName, type HelpfulRun, type RunPlan } from '@yuzumix/core'
import FewestRuns from './FewestRuns.vue'
import { counted, grouped, plain, signed } from '@/parts/numbers/format'

defineProps<{ answer: RunPlan | null; asking: boolean }>()

const title = (run: HelpfulRun): string =>
  run.kind === 'sweep' ? `Sweep at ${run.load} %` : `Hold at ${run.load} %, ${grouped(run.rpm!)} rpm`
const why = (run: HelpfulRun): string =>
  run.kind === 'hold'
    ? run.unknown
      ? 'nothing is known there'
      : 'one cell that is not settled'
    : `${counted(run.nodes, 'cell')} not settled${run.unknown ? `, ${run.unknown} of them without evidence` : ''}`
</script>

<template>
  <div class="panel">
    <FewestRuns />
    <h2>What would help most next</h2>
    <p v-if="asking && !answer" class="soft" role="status">Looking at the field's evidence …</p>
    <template v-else-if="answer">
      <p v-if="answer.note">{{ answer.note }}</p>
      <ol v-else>
        <li v-for="run in answer.next" :key="`${run.kind} ${run.load} ${run.rpm}`">
          <strong>{{ title(run) }}</strong>
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
        Told from the field's evidence: how wide each cell's interval is, how much the cell matters for this use, and
        what one more pass takes away. Held cells do not count.
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
