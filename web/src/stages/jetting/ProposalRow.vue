<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { Proposal } from '@yuzumix/core'
import { plain } from '@/parts/numbers/format'

/** Parts that would serve better: what they are, how far off they leave the mixture, and what is to be known first. */
defineProps<{
  proposal: Proposal
  words: string
  /** how far off the mixture is now, share of lambda */
  now: number
  isShown: boolean
  disabled: boolean
}>()
const emit = defineEmits<{ show: []; fit: [] }>()
</script>

<template>
  <li :class="{ front: isShown }">
    <button type="button" :aria-pressed="isShown" @click="emit('show')">{{ words }}</button>
    <span class="figures soft"
      >{{ plain(100 * now, 1) }} → {{ plain(100 * proposal.off, 1) }} % off, better by
      {{ plain(100 * proposal.gain.low, 1) }} to {{ plain(100 * proposal.gain.high, 1) }} %,
      {{ proposal.minutes }} min</span
    >
    <ElButton
      size="small"
      :type="proposal.leanAtFull ? 'default' : 'primary'"
      :disabled="disabled"
      :aria-label="`Fit: ${words}`"
      @click="emit('fit')"
      >Fit this</ElButton
    >
    <p class="soft wide">
      Furthest off then: {{ plain(Math.abs(proposal.worst.pct), 0) }} %
      {{ proposal.worst.pct > 0 ? 'lean' : 'rich' }} at {{ Math.round(100 * proposal.worst.opening) }} %.
    </p>
    <p v-if="!proposal.answers" class="soft wide">Leaves the range that reads worst as it is.</p>
    <p v-if="proposal.leanAtFull" class="alarm">
      Full throttle may go leaner than the readings support. Measure it before you ride it.
    </p>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 8px;
  align-items: center;
  padding: 6px 4px;
  border-bottom: 1px solid var(--line);
  font-size: 13px;
}
.front {
  background: var(--yuzu-soft);
}
button[aria-pressed] {
  padding: 0;
  border: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  font-weight: 700;
  text-align: left;
  cursor: pointer;
}
.soft {
  grid-row: 2;
}
li :deep(.el-button) {
  grid-row: 1 / span 2;
  grid-column: 2;
}
.wide {
  width: 100%;
}
.alarm {
  grid-column: 1 / -1;
  padding: 6px 10px;
  border-left: 4px solid var(--alarm);
}
</style>
