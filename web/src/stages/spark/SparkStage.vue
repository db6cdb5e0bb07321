<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import StageViews from '@/parts/frame/StageViews.vue'
import FitView from './FitView.vue'
import MixtureSweepView from './MixtureSweepView.vue'
import SettingsView from './SettingsView.vue'
import SparkPlanView from './SparkPlanView.vue'
import SparkTableView from './SparkTableView.vue'
import { useSpark } from './useSpark'

const spark = useSpark()
const route = useRoute()

const VIEWS: Record<string, { title: string; view: typeof FitView }> = {
  plan: { title: 'Plan', view: SparkPlanView },
  settings: { title: 'Settings', view: SettingsView },
  fit: { title: 'Fit', view: FitView },
  table: { title: 'Table', view: SparkTableView },
  'mixture-sweep': { title: 'Mixture sweep', view: MixtureSweepView },
}
const TITLES = Object.fromEntries(Object.entries(VIEWS).map(([id, { title }]) => [id, title]))
const USUAL = 'fit'
const shown = computed(() => VIEWS[String(route.params['view'] || USUAL)]!.view)
</script>

<template>
  <component :is="shown" :spark="spark">
    <template #switch><StageViews stage="spark" :usual="USUAL" :titles="TITLES" /></template>
  </component>
</template>
