<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, defineAsyncComponent } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useJob } from '@/job/openJob'
import ChangeStage from './change/ChangeStage.vue'

/** Change by a fuel table, by the parts of a carburettor, or by any other way that a machine takes one. */
const VIEWS = {
  table: ChangeStage,
  carburettor: defineAsyncComponent(() => import('@/stages/jetting/JettingStage.vue')),
  ways: defineAsyncComponent(() => import('@/stages/change/ways/WaysView.vue')),
}
const open = useJob()
const route = useRoute()
const router = useRouter()
const view = computed({
  get: () => String(route.params['view'] || (open.job?.jetting ? 'carburettor' : 'table')) as keyof typeof VIEWS,
  set: (now) => void router.push({ name: 'change', params: { ...route.params, view: now } }),
})
</script>

<template>
  <component :is="VIEWS[view]">
    <template #switch>
      <ElRadioGroup v-model="view" size="small" aria-label="Changed by">
        <ElRadioButton value="table">Table</ElRadioButton>
        <ElRadioButton value="carburettor">Carburettor</ElRadioButton>
        <ElRadioButton value="ways">Ways</ElRadioButton>
      </ElRadioGroup>
    </template>
  </component>
</template>
