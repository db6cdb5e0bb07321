<script setup lang="ts">
import { inject } from 'vue'
import type { PlannedRollOn } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'
import { RUNS_THE_PLAN } from './runsThePlan'

/** Roll-ons in the order to make them, ticked off by what runs hold. */
defineProps<{ plan: readonly PlannedRollOn[] }>()
const scripts = inject(RUNS_THE_PLAN, null)
</script>

<template>
  <p class="soft">
    Steady first: correct the fuel table until it is flat. Then small openings, then to the middle, then all the way,
    three times each. Openings in any log count by themselves.
  </p>
  <component :is="scripts" v-if="scripts" :plan="plan" />
  <table class="listed">
    <thead>
      <tr>
        <th>From</th>
        <th>Opening</th>
        <th>Done</th>
        <th>Why there</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(one, k) in plan" :key="k" :class="{ done: one.done >= one.wanted }">
        <td class="figures">{{ grouped(one.rpm) }} rpm</td>
        <td class="figures">{{ one.fromLoad }} to {{ one.toLoad }} %</td>
        <td class="figures">{{ one.done >= one.wanted ? '✓' : '' }} {{ one.done }} of {{ one.wanted }}</td>
        <td>{{ one.why }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.done {
  color: var(--leaf);
}
</style>
