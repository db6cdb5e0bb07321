<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { stopName, type RunInfo, type Stop } from '@yuzumix/core'

/** Throttle stop whose runs are shown. `shown` is what the choice comes to when nothing was chosen. */
defineProps<{
  stops: Stop<RunInfo>[]
  shown: number | 'all' | null | undefined
  withAll?: boolean
}>()
const chosen = defineModel<number | 'all' | null | undefined>({ required: true })
const NONE = 'none'
const valueOf = (stop: number | 'all' | null | undefined): number | string | undefined => (stop === null ? NONE : stop)
</script>

<template>
  <ElSelect
    v-if="stops.length"
    :model-value="valueOf(shown)"
    size="small"
    aria-label="Throttle stop"
    class="stop"
    @update:model-value="chosen = $event === NONE ? null : $event"
  >
    <ElOption
      v-for="one in stops"
      :key="String(one.stop)"
      :value="valueOf(one.stop)!"
      :label="`${stopName(one.stop)} (${one.sweeps})`"
    />
    <ElOption v-if="withAll && stops.length > 1" value="all" label="all stops" />
  </ElSelect>
</template>

<style scoped>
.stop {
  width: 140px;
}
</style>
