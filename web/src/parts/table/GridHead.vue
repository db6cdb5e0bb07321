<script setup lang="ts">
import { computed } from 'vue'
import { grouped } from '@/parts/numbers/format'

/** The line of engine speeds over a table of cells, with what riders complained of marked where it is pinned. */
const props = defineProps<{
  rpm: readonly number[]
  loadUnit: string
  pins: readonly { from: number; to: number; text: string }[]
}>()
const headings = computed(() =>
  props.rpm.map((rpm) => ({
    rpm,
    pinned: props.pins
      .filter(({ from, to }) => rpm >= from && rpm <= to)
      .map((pin) => pin.text)
      .join(', '),
  })),
)
</script>

<template>
  <thead>
    <tr role="row">
      <th role="columnheader" class="corner">{{ loadUnit }} \ rpm</th>
      <th
        v-for="{ rpm: speed, pinned } in headings"
        :key="speed"
        role="columnheader"
        scope="col"
        class="figures"
        :class="{ pinned }"
        :title="pinned || undefined"
      >
        {{ grouped(speed) }}<span v-if="pinned" class="sr-only">, {{ pinned }}</span>
      </th>
    </tr>
  </thead>
</template>
