<script setup lang="ts">
import { ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** The views of a stage, one of them shown: which, stands in the address. */
const props = defineProps<{ stage: string; usual: string; titles: Record<string, string> }>()
const route = useRoute()
const router = useRouter()
const view = computed({
  get: () => String(route.params['view'] || props.usual),
  set: (now) => void router.push({ name: props.stage, params: { ...route.params, view: now } }),
})
</script>

<template>
  <ElRadioGroup v-model="view" class="views" size="small" aria-label="View">
    <ElRadioButton v-for="(title, id) in titles" :key="id" :value="id">{{ title }}</ElRadioButton>
  </ElRadioGroup>
</template>

<style scoped>
.views {
  flex: none;
}
@media (max-width: 700px) {
  .views {
    flex: 1 1 100%;
  }
}
</style>
