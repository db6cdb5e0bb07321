<script setup lang="ts">
import { computed } from 'vue'
import { cylinderTrims, wantedOfField } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { plain, signed } from '@/parts/numbers/format'
import type { Ways } from './useWays'

/** Tables for each cylinder against one for all with offsets: what each leaves, and which is smoother. */
const props = defineProps<{ ways: Ways }>()
const open = useJob()
const cylinders = computed(() => props.ways.field.value?.cylinders.map((one) => one.cylinder) ?? [])
const trims = computed(() => {
  const { field, since } = props.ways
  if (!field.value || cylinders.value.length < 2) return null
  return cylinderTrims(cylinders.value.map((one) => wantedOfField(field.value!, one, since.value)))
})
const isSmoother = computed(() => trims.value !== null && trims.value.bendPct.shared < trims.value.bendPct.own)
</script>

<template>
  <section v-if="trims">
    <h3>Per cylinder</h3>
    <p>
      One table for all with an offset each:
      <template v-for="(one, k) in cylinders" :key="one">
        {{ open.cylinderName(one) }} <b class="figures">{{ signed(trims.offsets[k]!) }} %</b>, typically off by
        <span class="figures">{{ plain(trims.leftPct[k]!, 2) }} %</span>{{ k + 1 < cylinders.length ? '; ' : '.' }}
      </template>
    </p>
    <p class="soft">
      From cell to cell it bends by <span class="figures">{{ plain(trims.bendPct.shared, 2) }} %</span>, tables of their
      own by <span class="figures">{{ plain(trims.bendPct.own, 2) }} %</span>:
      {{ isSmoother ? 'the shared one is smoother' : 'their own are as smooth' }}. Their own leave nothing at the cells.
    </p>
  </section>
</template>
