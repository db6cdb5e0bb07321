<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { STAGES } from './stages'

const route = useRoute()
const stage = computed(() => STAGES.find((one) => one.id === route.name))
</script>

<template>
  <section class="unbuilt">
    <h1>{{ stage?.title }}: not built yet</h1>
    <p>{{ stage?.about }} This stage comes in a later version; the others work without it.</p>
    <p class="soft">Nothing is needed here to go on to Mixture or Change.</p>
  </section>
</template>

<style scoped>
.unbuilt {
  padding: 48px;
  display: grid;
  gap: 12px;
}
</style>
