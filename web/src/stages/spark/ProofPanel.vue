<script setup lang="ts">
import { stopName, type SparkProof } from '@yuzumix/core'
import { grouped, plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** What a saved change of the spark promised, against what was measured after it. */
defineProps<{ proof: SparkProof[] }>()
const display = useDisplay()
const range = ({ value, low, high }: { value: number; low: number | null; high: number | null }): string =>
  `${display.difference('torque', value)}${low === null || high === null ? '' : ` (${display.difference('torque', low)} to ${display.difference('torque', high)})`}`
</script>

<template>
  <div class="panel">
    <p v-if="proof.length === 0" class="soft">
      Once a spark table is saved from these points and written, run holds or the same steps again at them: here stands
      whether torque came as predicted.
    </p>
    <template v-for="one in proof" :key="`${one.stop} ${one.rpm}`">
      <h3>{{ stopName(one.stop) }} at {{ grouped(one.rpm) }} rpm: {{ one.verdict }}</h3>
      <dl class="facts figures">
        <dt>advance</dt>
        <dd>{{ plain(one.from, 1) }}° → {{ plain(one.to, 1) }}°</dd>
        <dt>predicted</dt>
        <dd>{{ range(one.predicted) }} {{ display.torqueUnit }}</dd>
        <dt>measured</dt>
        <dd>{{ range(one.measured) }} {{ display.torqueUnit }}</dd>
      </dl>
    </template>
    <p v-if="proof.length" class="soft small">
      90 % intervals. Weather and heat between the two days move torque, too.
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
</style>
