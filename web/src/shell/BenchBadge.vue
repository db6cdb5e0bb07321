<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { plain } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import { useJobBench } from '@/bench/benchStore'

/** The bench's state, on every page: battery, what is under way, what was written and not kept. */
const open = useJob()
const store = useJobBench()
const LOW_BATTERY = 12.2
const isConnected = computed(() => store.bench?.state.value != null)
const unkept = computed(() => store.bench?.unkept.value ?? [])
const dead = computed(() => store.bench?.state.value?.controller.readable === false)
/** Not a number where a source of lines tells none. */
const battery = computed(() => {
  const volts = store.bench?.sample.value?.battery
  return volts === undefined || Number.isNaN(volts) ? null : volts
})
const busy = computed(() => store.bench?.news.value?.script?.name ?? (store.bench?.isBusy.value ? 'recording' : ''))
const lost = computed(() => store.bench?.connection.value === 'lost')

useEventListener(window, 'beforeunload', (event) => {
  if (unkept.value.length) event.preventDefault()
})
</script>

<template>
  <RouterLink v-if="open.job" :to="{ name: 'bench', params: { job: open.job.id } }" class="bench">
    <span>Bench</span>
    <template v-if="isConnected">
      <span v-if="lost" class="mark">stream cut</span>
      <span v-else-if="battery !== null" class="figures" :class="{ mark: battery < LOW_BATTERY }"
        >{{ plain(battery, 1) }} V</span
      >
      <span v-if="dead" class="mark">controller dead</span>
      <span v-if="unkept.length" class="mark" role="status">not kept: {{ unkept.join(', ') }}</span>
      <span v-else-if="busy" class="soft busy">{{ busy }}</span>
    </template>
  </RouterLink>
</template>

<style scoped>
.bench {
  display: flex;
  gap: 8px;
  align-items: center;
  white-space: nowrap;
}
.busy {
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.mark {
  padding: 1px 6px;
  background: var(--yuzu);
  color: #22281f;
  border-radius: 4px;
  font-weight: 700;
}
</style>
