<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, type Component } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import FitView from './FitView.vue'
import MixtureSweepView from './MixtureSweepView.vue'
import SettingsView from './SettingsView.vue'
import SparkPlanView from './SparkPlanView.vue'
import SparkTableView from './SparkTableView.vue'
import { useSpark } from './useSpark'

const spark = useSpark()
const route = useRoute()
const router = useRouter()

const VIEWS: Record<string, { title: string; view: Component }> = {
  plan: { title: 'Plan', view: SparkPlanView },
  settings: { title: 'Settings', view: SettingsView },
  fit: { title: 'Fit', view: FitView },
  table: { title: 'Table', view: SparkTableView },
  'mixture-sweep': { title: 'Mixture sweep', view: MixtureSweepView },
}
const view = computed({
  get: () => String(route.params['view'] || 'fit'),
  set: (now) => void router.push({ name: 'spark', params: { ...route.params, view: now } }),
})
</script>

<template>
  <component :is="VIEWS[view]!.view" :spark="spark">
    <template #switch>
      <ElRadioGroup v-model="view" size="small" aria-label="View">
        <ElRadioButton v-for="(one, id) in VIEWS" :key="id" :value="id">{{ one.title }}</ElRadioButton>
      </ElRadioGroup>
    </template>
  </component>
</template>
