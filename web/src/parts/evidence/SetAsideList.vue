<script setup lang="ts">
import { computed } from 'vue'
import { REASONS, type SetAside } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'

const props = defineProps<{ counts: SetAside; none: string }>()
const rows = computed(() =>
  REASONS.flatMap((reason) => (props.counts[reason] ? [{ reason, count: props.counts[reason]! }] : [])),
)
</script>

<template>
  <p v-if="rows.length === 0" class="soft">{{ none }}</p>
  <dl v-else class="counts">
    <template v-for="row in rows" :key="row.reason">
      <dt>{{ row.reason }}</dt>
      <dd class="figures">{{ grouped(row.count) }}</dd>
    </template>
  </dl>
</template>

<style scoped>
.counts {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 16px;
  margin: 0;
}
dd {
  margin: 0;
  text-align: right;
}
</style>
