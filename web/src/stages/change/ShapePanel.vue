<script setup lang="ts">
import { computed } from 'vue'
import { LOAD_UNITS, changeShape, type SuggestedChange, type Table, sentence } from '@yuzumix/core'
import { grouped, plain, signed } from '@/parts/numbers/format'

/** How rough the table is to ride over, before and after the suggested change, and what would be left standing. */
const props = defineProps<{ table: Table; suggested: SuggestedChange }>()
const emit = defineEmits<{ select: [cell: { row: number; column: number }] }>()
const shape = computed(() => changeShape(props.table, props.suggested))
const KINDS = ['step', 'bend'] as const
const unit = computed(() => LOAD_UNITS[props.table.loadAxis])
const at = ({ row, column }: { row: number; column: number }): string =>
  `${grouped(props.table.rpm[column]!)} rpm, ${props.table.load[row]} ${unit.value}`
const MOST = 6
</script>

<template>
  <section class="shape" aria-label="Shape of the table">
    <h2>Shape</h2>
    <table>
      <thead>
        <tr>
          <th scope="col">% of fuel</th>
          <th scope="col" class="right">before</th>
          <th scope="col" class="right">after</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="kind in KINDS" :key="kind">
          <td>largest {{ kind }}</td>
          <td v-for="when in ['before', 'after'] as const" :key="when" class="right figures">
            <template v-if="shape[when][kind]"
              >{{ plain(Math.abs(shape[when][kind]!.pct), 1) }}<br /><span class="soft">{{
                at(shape[when][kind]!)
              }}</span></template
            >
            <template v-else>0</template>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="shape.warnings.length === 0" class="soft">The change leaves no ridge and no hole.</p>
    <ul v-else>
      <li v-for="one in shape.warnings.slice(0, MOST)" :key="`${one.row}:${one.column}`">
        <button type="button" @click="emit('select', one)">
          <strong>{{ one.what === 'ridge' ? 'Ridge' : 'Hole' }}</strong> at
          <span class="figures">{{ at(one) }}</span></button
        >{{ ' ' }} <span class="figures">{{ signed(one.pct) }} %</span> against its neighbours along {{ one.along }}:
        {{ sentence(one.why) }}
      </li>
    </ul>
    <p v-if="shape.warnings.length > MOST" class="soft">and {{ shape.warnings.length - MOST }} more</p>
  </section>
</template>

<style scoped>
.shape {
  display: grid;
  gap: 8px;
  padding-bottom: 12px;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  padding: 3px 0;
  text-align: left;
  vertical-align: top;
  font-weight: inherit;
  border-bottom: 1px solid var(--line);
}
.right {
  text-align: right;
}
ul {
  display: grid;
  gap: 6px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 6px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
button {
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  text-decoration: underline;
  cursor: pointer;
}
</style>
