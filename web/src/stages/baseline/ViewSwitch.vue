<script setup lang="ts">
import StageViews from '@/parts/frame/StageViews.vue'

const TITLES = {
  runs: 'Runs',
  log: 'Log',
  compare: 'Compare',
  plan: 'Plan',
  'hand-readings': 'Hand readings',
  road: 'Road',
  strip: 'Strip',
}
</script>

<template>
  <StageViews stage="baseline" usual="runs" :titles="TITLES" />
</template>
