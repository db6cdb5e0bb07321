<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, type Component } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import EdgesView from './EdgesView.vue'
import GripView from './GripView.vue'
import HandTablesView from './HandTablesView.vue'
import RollOnsView from './RollOnsView.vue'
import { useResponse } from './useResponse'

const state = useResponse()
const route = useRoute()
const router = useRouter()

const VIEWS: Record<string, { title: string; view: Component }> = {
  'roll-ons': { title: 'Roll-ons', view: RollOnsView },
  edges: { title: 'Loop exit, overrun', view: EdgesView },
  grip: { title: 'Grip to plate', view: GripView },
  tables: { title: 'Tables', view: HandTablesView },
}
const view = computed({
  get: () => String(route.params['view'] || 'roll-ons'),
  set: (now) => void router.push({ name: 'response', params: { ...route.params, view: now } }),
})
</script>

<template>
  <component :is="VIEWS[view]!.view" :state="state">
    <template #switch>
      <ElRadioGroup v-model="view" size="small" aria-label="View">
        <ElRadioButton v-for="(one, id) in VIEWS" :key="id" :value="id">{{ one.title }}</ElRadioButton>
      </ElRadioGroup>
    </template>
  </component>
</template>
