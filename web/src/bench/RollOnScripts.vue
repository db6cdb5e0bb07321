<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { PlannedRollOn } from '@yuzumix/core'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import { rollOnScriptOf } from './runScripts'
import QueueProgress from './QueueProgress.vue'
import { useJobBench } from './benchStore'

/** The roll-ons that are left of a plan, made at the bench one after the other. */
const props = defineProps<{ plan: readonly PlannedRollOn[] }>()
/** Where the set does not say. */
const USUAL_GEAR = 4
const open = useJob()
const handling = useHandling()
const the = useJobBench()
const gear = computed(() => open.set?.gear ?? USUAL_GEAR)
const left = computed(() =>
  props.plan.flatMap((one) =>
    Array.from({ length: Math.max(0, one.wanted - one.done) }, () => rollOnScriptOf(one, gear.value)),
  ),
)
const queue = computed(() => the.queue)
const isConnected = computed(() => the.bench?.state.value != null)
const isReady = computed(() => the.bench?.isDriving.value === true && !the.bench.isBusy.value)
</script>

<template>
  <QueueProgress v-if="queue?.isRunning.value" :queue="queue" />
  <p v-else-if="left.length && !handling.isDone">
    <ElButton v-if="isConnected" size="small" type="primary" :disabled="!isReady" @click="queue?.start(left)"
      >Run the {{ left.length }} left in gear {{ gear }}, warmed up first</ElButton
    >
    <RouterLink v-if="!isReady" :to="{ name: 'bench', params: { job: open.job!.id } }">{{
      isConnected ? 'Take the wheel at the bench to run them' : 'Connect a bench to run them by script'
    }}</RouterLink>
  </p>
</template>

<style scoped>
p {
  min-height: 28px;
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
</style>
