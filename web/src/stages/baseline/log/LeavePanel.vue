<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'
import type { LeftOutSpan } from '@yuzumix/core'
import { plain } from '@/parts/numbers/format'
import type { Span } from './drawLog'

/** What of a run is left out by time and why; what is marked can be left out, or all around it. */
const props = defineProps<{ marked: Span | null; whole: Span; without: readonly LeftOutSpan[] }>()
const emit = defineEmits<{ leave: [without: LeftOutSpan[]] }>()
const reason = ref('')
const wanting = ref(false)

function leave(): void {
  if (!props.marked) return
  wanting.value = !reason.value.trim()
  if (wanting.value) return
  emit('leave', [...props.without, { ...props.marked, reason: reason.value.trim() }])
  reason.value = ''
}
/** Leaves out what lies before and behind what is marked. */
function crop(): void {
  if (!props.marked) return
  const { from, to } = props.marked
  const why = reason.value.trim() || 'cropped'
  const around = [
    { from: props.whole.from, to: from, reason: why },
    { from: to, to: props.whole.to, reason: why },
  ].filter((one) => one.to - one.from > 0.001)
  emit('leave', [...props.without, ...around])
  reason.value = ''
}
const takeIn = (k: number): void => emit('leave', [...props.without.slice(0, k), ...props.without.slice(k + 1)])
</script>

<template>
  <h2>Left out</h2>
  <template v-if="marked">
    <p class="soft">Marked: <span class="figures">{{ plain(marked.from, 1) }} to {{ plain(marked.to, 1) }} s</span></p>
    <ElInput v-model="reason" size="small" maxlength="300" aria-label="Why it is left out" placeholder="Why?" />
    <p v-if="wanting" class="wanting" role="alert">Say why: it stands in the logbook, and beside the shade.</p>
    <div class="acts">
      <ElButton size="small" @click="leave">Leave it out</ElButton>
      <ElButton size="small" @click="crop">Keep only this</ElButton>
    </div>
  </template>
  <p v-else-if="without.length === 0" class="soft">
    Nothing. Mark a part with Shift-drag, or with m at both its ends, to leave it out or to keep it alone.
  </p>
  <ul v-if="without.length">
    <li v-for="(one, k) in without" :key="`${one.from} ${one.to}`">
      <span><span class="figures">{{ plain(one.from, 1) }} to {{ plain(one.to, 1) }} s</span>, {{ one.reason }}</span>
      <ElButton size="small" @click="takeIn(k)">Take in again</ElButton>
    </li>
  </ul>
</template>

<style scoped>
h2 {
  margin: 10px 0 4px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 6px 0;
}
.acts :deep(.el-button + .el-button) {
  margin-left: 0;
}
.wanting {
  margin: 4px 0;
  color: var(--alarm);
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  padding: 2px 0;
}
</style>
