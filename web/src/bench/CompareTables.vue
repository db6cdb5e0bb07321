<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { computed } from 'vue'
import { factorBetween, percentFromFactor, type Table } from '@yuzumix/core'
import { changeColour, inkOn } from '@/parts/field/changeColour'
import { cellText, grouped, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** What is in the controller beside a revision of the job, cell by cell. */
const props = defineProps<{ inside: Table; own: Table; title: string }>()
const emit = defineEmits<{ close: [] }>()
const display = useDisplay()
const rows = computed(() =>
  props.inside.load
    .map((load, r) => ({
      load,
      cells: props.inside.rpm.map((rpm, k) => {
        const [before, after] = [props.inside.values[r]![k]!, props.own.values[r]![k]!]
        const percent = percentFromFactor(factorBetween(before, after, props.inside))
        const same = Math.abs(percent) < 0.005
        const colour = changeColour(percent, display.dark ? '#2a2f27' : undefined)
        return {
          rpm,
          before,
          after,
          same,
          text: same ? '=' : signed(percent, 1),
          style: same ? {} : { background: colour, color: inkOn(colour) },
        }
      }),
    }))
    .reverse(),
)
</script>

<template>
  <ElDialog :model-value="true" :title="title" width="min(96vw, 1180px)" append-to-body @close="emit('close')">
    <p>Percent of fuel that the revision gives over what is in the controller; = where they are the same.</p>
    <div class="scroll" tabindex="0" role="region" :aria-label="title">
      <table class="figures">
        <thead>
          <tr>
            <th scope="col">{{ inside.loadAxis === 'throttle' ? 'throttle, %' : 'manifold, kPa' }}</th>
            <th v-for="rpm in inside.rpm" :key="rpm" scope="col">{{ grouped(rpm) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.load">
            <th scope="row">{{ row.load }}</th>
            <td
              v-for="cell in row.cells"
              :key="cell.rpm"
              :style="cell.style"
              :title="`controller ${cellText(cell.before)}, revision ${cellText(cell.after)}`"
            >
              {{ cell.text }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </ElDialog>
</template>

<style scoped>
.scroll {
  overflow: auto;
  max-height: 60vh;
  margin-top: 8px;
}
table {
  border-collapse: collapse;
  font-size: 12px;
}
th,
td {
  padding: 3px 6px;
  border: 1px solid var(--line);
  text-align: right;
  white-space: nowrap;
}
th {
  color: var(--soft);
  font-weight: 400;
}
</style>
