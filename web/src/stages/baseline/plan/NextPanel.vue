<script setup lang="ts">
import { stopName, type Recheck } from '@yuzumix/core'
import FewestRuns from './FewestRuns.vue'
import { grouped, signed } from '@/parts/numbers/format'

defineProps<{ again: readonly Recheck[] }>()
</script>

<template>
  <div class="panel">
    <FewestRuns />
    <template v-if="again.length">
      <h2>To be measured again</h2>
      <ul>
        <li v-for="one in again" :key="`${one.what} ${one.stop} ${one.fromRpm}`">
          <strong>{{ one.what === 'mixture' ? 'Sweep' : 'Spark step' }} at {{ stopName(one.stop) }}</strong>
          <p class="soft figures">
            {{
              one.what === 'mixture'
                ? `${grouped(one.fromRpm)} to ${grouped(one.toRpm)} rpm: spark moved by ${signed(one.moved)}°`
                : `${grouped(one.fromRpm)} rpm: the mixture moved by ${signed(one.moved)} %`
            }}
          </p>
        </li>
      </ul>
      <p class="soft small">Mixture and spark pull on each other: after one has moved, the other is measured again.</p>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  padding-top: 12px;
}
ul {
  margin: 0;
  padding-left: 20px;
  display: grid;
  gap: 8px;
}
</style>
