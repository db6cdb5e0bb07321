<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { nextRunWords, useNextRun } from '@/job/useNextRun'
import { plain } from '@/parts/numbers/format'

const { answer, problem, asking, ask } = useNextRun(ref(true))
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
    </template>
  </section>
</template>

<style scoped>
.fewest {
  display: grid;
  gap: 4px;
}
</style>
