<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

const route = useRoute()
const router = useRouter()
const view = computed({
  get: () => String(route.params['view'] || 'runs'),
  set: (now) => void router.push({ name: 'baseline', params: { ...route.params, view: now } }),
})
</script>

<template>
  <ElRadioGroup v-model="view" size="small" aria-label="View">
    <ElRadioButton value="runs">Runs</ElRadioButton>
    <ElRadioButton value="compare">Compare</ElRadioButton>
    <ElRadioButton value="plan">Plan</ElRadioButton>
    <ElRadioButton value="hand-readings">Hand readings</ElRadioButton>
  </ElRadioGroup>
</template>
