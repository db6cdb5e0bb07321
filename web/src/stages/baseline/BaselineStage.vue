<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { useRoute } from 'vue-router'
import { useJob } from '@/job/openJob'
import DropLogs from '@/parts/intake/DropLogs.vue'
import ViewSwitch from './ViewSwitch.vue'
import OverlayView from './overlay/OverlayView.vue'

const open = useJob()
const route = useRoute()

const VIEWS = {
  runs: OverlayView,
  log: defineAsyncComponent(() => import('./log/LogView.vue')),
  road: defineAsyncComponent(() => import('./road/RoadView.vue')),
  strip: defineAsyncComponent(() => import('./strip/StripView.vue')),
  compare: defineAsyncComponent(() => import('./compare/CompareView.vue')),
  plan: defineAsyncComponent(() => import('./plan/PlanView.vue')),
  'hand-readings': defineAsyncComponent(() => import('./hand/HandReadingsView.vue')),
}
const view = computed(() => (route.params['view'] || 'runs') as keyof typeof VIEWS)
</script>

<template>
  <div v-if="view === 'runs' && open.runs.length === 0" class="empty">
    <ViewSwitch />
    <h1>Runs</h1>
    <p>Repeats of the same run, laid over each other, tell what one run cannot. Drop the first logs anywhere here.</p>
    <DropLogs />
    <p class="soft">
      With a gauge and no logger, type what it shows under "Hand readings". A plan says which runs to make.
    </p>
  </div>
  <component :is="VIEWS[view]" v-else />
</template>

<style scoped>
.empty {
  padding: 8px 24px;
  display: grid;
  gap: 16px;
  justify-items: start;
  max-width: 820px;
}
</style>
