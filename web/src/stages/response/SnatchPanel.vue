<script setup lang="ts">
import type { Snatch } from '@yuzumix/core'
import { grouped, plain } from '@/parts/numbers/format'
import { estimateText } from './groupWords'

/** How hard the machine takes hold as the hand begins to open, by speed. */
const props = defineProps<{ snatch: readonly Snatch[]; before: readonly Snatch[] | null }>()
const was = (rpm: number): Snatch | undefined => props.before?.find((one) => one.rpm === rpm)
</script>

<template>
  <p class="soft">
    One is torque in step with the hand, at once and with a steady mixture. Torque gained per 1 % of grip in the first
    tenth, times what the step of the mixture and the delay add.
  </p>
  <table v-if="snatch.length" class="listed">
    <thead>
      <tr>
        <th>From</th>
        <th>Snatch</th>
        <th v-if="before">before</th>
        <th>torque</th>
        <th>mixture</th>
        <th>delay</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in snatch" :key="one.rpm">
        <td class="figures">{{ grouped(one.rpm) }} rpm</td>
        <td class="figures">{{ estimateText(one.index) }}</td>
        <td v-if="before" class="figures">{{ was(one.rpm) ? estimateText(was(one.rpm)!.index) : '–' }}</td>
        <td class="figures">× {{ plain(one.torque, 1) }}</td>
        <td class="figures">{{ plain(one.mixturePct, 1) }} %</td>
        <td class="figures">{{ plain(one.delayS, 2) }} s</td>
      </tr>
    </tbody>
  </table>
  <p v-else>It needs torque by plate: sweeps with torque at several throttle stops.</p>
</template>
