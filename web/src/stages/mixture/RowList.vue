<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { LOAD_UNITS, type CylinderField, type Field } from '@yuzumix/core'
import { grouped, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** The field row by row, as a list: for a phone, where its cells are too small for their figures. */
const props = defineProps<{ field: Field; cylinder: CylinderField }>()
const selected = defineModel<{ row: number; column: number } | null>('selected', { required: true })
const display = useDisplay()
const highest = computed(() => props.cylinder.changePct.findLastIndex((cells) => cells.some((one) => one !== null)))
const row = ref(Math.max(0, highest.value))
watch(selected, (now) => now && (row.value = now.row))
const loads = computed(() => props.field.grid.load)
const unit = computed(() => LOAD_UNITS[props.field.grid.loadAxis])
const cells = computed(() => {
  const { changePct, lowPct, highPct, lambda, held } = props.cylinder
  const r = row.value
  return props.field.grid.rpm.map((rpm, column) => {
    const change = changePct[r]![column] ?? null
    const [low, high] = [lowPct[r]![column] ?? null, highPct[r]![column] ?? null]
    const half = low === null || high === null ? null : (high - low) / 2
    return { rpm, column, change, half, lambda: lambda[r]![column] ?? null, held: held[r]![column]! }
  })
})
const words = (change: number): string => (Math.abs(change) < 1 ? 'on target' : change > 0 ? 'lean' : 'rich')
const step = (by: 1 | -1): void => {
  row.value = Math.min(loads.value.length - 1, Math.max(0, row.value + by))
}
</script>

<template>
  <section class="rows" aria-label="The field, one opening at a time">
    <div class="which">
      <ElButton :disabled="row === 0" aria-label="Smaller opening" @click="step(-1)">−</ElButton>
      <strong class="figures">{{ loads[row] }} {{ unit }}</strong>
      <ElButton :disabled="row === loads.length - 1" aria-label="Wider opening" @click="step(1)">+</ElButton>
    </div>
    <ol>
      <li v-for="cell in cells" :key="cell.rpm">
        <button
          type="button"
          :aria-pressed="selected?.row === row && selected.column === cell.column"
          @click="selected = { row, column: cell.column }"
        >
          <span class="figures rpm">{{ grouped(cell.rpm) }} rpm</span>
          <template v-if="cell.change !== null">
            <span class="figures change" :class="words(cell.change).replace(' ', '-')"
              >{{ signed(cell.change, 1) }} %<template v-if="cell.half !== null">
                ± {{ cell.half.toFixed(1) }}</template
              ></span
            >
            <span>{{ words(cell.change) }}</span>
            <span v-if="cell.lambda !== null" class="figures soft">{{ display.mixture(cell.lambda) }}</span>
          </template>
          <span v-else class="soft">{{ cell.held ? 'held by the loop' : 'not read' }}</span>
        </button>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.which {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 4px 0;
  font-size: 18px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
button:not(.el-button) {
  display: grid;
  grid-template-columns: 92px 1fr auto auto;
  gap: 8px;
  align-items: center;
  width: 100%;
  padding: 4px 6px;
  border: 0;
  border-bottom: 1px solid var(--line);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
}
button[aria-pressed='true'] {
  background: var(--yuzu-soft);
}
.change {
  font-size: 18px;
  font-weight: 700;
}
.lean {
  color: var(--lean);
}
.rich {
  color: var(--rich);
}
</style>
