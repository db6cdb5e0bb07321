<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import StageViews from '@/parts/frame/StageViews.vue'
import EdgesView from './EdgesView.vue'
import GripView from './GripView.vue'
import HandTablesView from './HandTablesView.vue'
import RollOnsView from './RollOnsView.vue'
import { useResponse } from './useResponse'

const state = useResponse()
const route = useRoute()

const VIEWS: Record<string, { title: string; view: typeof GripView }> = {
  'roll-ons': { title: 'Roll-ons', view: RollOnsView },
  edges: { title: 'Loop exit, overrun', view: EdgesView },
  grip: { title: 'Grip to plate', view: GripView },
  tables: { title: 'Tables', view: HandTablesView },
}
const TITLES = Object.fromEntries(Object.entries(VIEWS).map(([id, { title }]) => [id, title]))
const USUAL = 'roll-ons'
const shown = computed(() => VIEWS[String(route.params['view'] || USUAL)]!.view)
</script>

<template>
  <component :is="shown" :state="state">
    <template #switch><StageViews stage="response" :usual="USUAL" :titles="TITLES" /></template>
  </component>
</template>
