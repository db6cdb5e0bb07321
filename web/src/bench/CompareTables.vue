<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { computed } from 'vue'
import { cellChange, tableDigits, type Table, setsFuel } from '@yuzumix/core'
import { grouped, plain, signed } from '@/parts/numbers/format'
import { useChangeColours } from '@/parts/desk/differenceLook'

/** What is in the controller beside a revision of the job, cell by cell. */
const props = defineProps<{ inside: Table; own: Table; title: string }>()
const emit = defineEmits<{ close: [] }>()
const coloured = useChangeColours()
const digits = computed(() => tableDigits(props.own))
const isFuel = computed(() => setsFuel(props.own))
const rows = computed(() =>
  props.inside.load
    .map((load, r) => ({
      load,
      cells: props.inside.rpm.map((rpm, k) => {
        const [before, after] = [props.inside.values[r]![k]!, props.own.values[r]![k]!]
        const { size, unit } = cellChange(before, after, props.inside)
        const same = Math.abs(size) < 0.005
        const { colour, ink } = coloured(size, unit)
        return {
          rpm,
          before,
          after,
          same,
          text: same ? '=' : signed(size, 1),
          style: same ? {} : { background: colour, color: ink },
        }
      }),
    }))
    .reverse(),
)
</script>

<template>
  <ElDialog :model-value="true" :title="title" width="min(96vw, 1180px)" append-to-body @close="emit('close')">
    <p>
      {{ isFuel ? 'Percent of fuel' : 'Degrees of advance' }} that the revision gives over what is in the controller; =
      where they are the same.
    </p>
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
              :title="`controller ${plain(cell.before, digits)}, revision ${plain(cell.after, digits)}`"
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
