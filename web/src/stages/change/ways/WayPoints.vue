<script setup lang="ts">
import type { PointsTold } from '@yuzumix/core'
import { grouped, plain } from '@/parts/numbers/format'

/** What a coarse table's points are worth: one more on either axis, and the one that does least. */
defineProps<{ points: PointsTold; cost: number; unit: string }>()
</script>

<template>
  <p class="soft">
    Weighed with lean counting more it leaves <b class="figures">{{ plain(cost, 2) }} %</b>.
    <template v-for="one in points.more" :key="one.axis">
      One more {{ one.axis === 'rpm' ? 'speed' : 'load' }}, at {{ grouped(one.at) }}
      {{ one.axis === 'rpm' ? 'rpm' : unit }}, would leave <span class="figures">{{ plain(one.costPct, 2) }} %</span>.
    </template>
    <template v-if="points.least">
      {{ points.least.axis === 'rpm' ? `${grouped(points.least.at)} rpm` : `${plain(points.least.at, 0)} ${unit}` }}
      does least: without it <span class="figures">{{ plain(points.least.costPct, 2) }} %</span>.
    </template>
  </p>
</template>
