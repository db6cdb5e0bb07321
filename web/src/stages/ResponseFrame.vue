<script setup lang="ts">
import { provide } from 'vue'
import RollOnScripts from '@/bench/RollOnScripts.vue'
import { RUNS_THE_PLAN } from './response/runsThePlan'
import ResponseStage from './response/ResponseStage.vue'

/** The answer to the hand, with what runs its plan at the bench. */
provide(RUNS_THE_PLAN, RollOnScripts)
</script>

<template><ResponseStage /></template>
