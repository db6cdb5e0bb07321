<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { actOf } from '@/parts/keys/keymap'
import { api } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { counted, plain } from '@/parts/numbers/format'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useJob } from '@/job/openJob'
import { useHandTable } from './useHandTable'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'

const open = useJob()
const router = useRouter()

const table = useHandTable(() => void save())
const {
  banks,
  withExhaust,
  loadAxis,
  rows,
  columns,
  scale,
  judged,
  readings,
  unfinished,
  grid,
  focus,
  setCell,
  goOn,
  dropRow,
} = table
const columnName = (c: number): string =>
  c === 1
    ? 'rpm'
    : c === 2
      ? 'load'
      : c <= 2 + banks.value
        ? `reading of bank ${c - 2}`
        : `exhaust gas of bank ${c - 2 - banks.value} in °C`
const name = ref('')
const saving = ref(false)

const MOVES: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0] }
function onKey(event: KeyboardEvent, row: number, column: number): void {
  const target = event.target as HTMLInputElement
  const pressed = actOf('hand', event)
  if (pressed) {
    event.preventDefault()
    if (pressed === 'add') void save()
    else if (pressed === 'drop') dropRow(row)
    else goOn(row, column)
    return
  }
  const move = MOVES[event.key]
  if (move) {
    event.preventDefault()
    const next = Math.min(rows.value.length - 1, Math.max(0, row + move[0]))
    void focus(next, column)
  } else if (event.key === 'ArrowLeft' && target.selectionStart === 0 && target.selectionEnd === 0 && column > 0) {
    event.preventDefault()
    void focus(row, column - 1)
  }
}
async function save(): Promise<void> {
  if (readings.value.length === 0 || unfinished.value || saving.value) return
  saving.value = true
  try {
    const run = await api.addHandReadings(open.job!.id, {
      readings: readings.value,
      loadAxis: loadAxis.value,
      ...(name.value.trim() && { name: name.value.trim() }),
      ...(open.set && { set: open.set.id }),
    })
    table.clear()
    name.value = ''
    await open.reloadRuns()
    notifyDone(`"${run.name}" is a run of the set now and bears on the mixture.`)
    await focus(0, 0)
  } catch (error) {
    notifyProblem(error)
  } finally {
    saving.value = false
  }
}
const stored = computed(() => open.runs.filter((run) => run.kind === 'hand readings' && run.set === open.set?.id))
</script>

<template>
  <StageSplit label="Readings by hand" drawer-label="About hand readings" problem="">
    <template #bar>
      <ViewSwitch />
      <span class="space" />
      <ElButton
        type="primary"
        size="small"
        :disabled="readings.length === 0 || unfinished > 0"
        :loading="saving"
        @click="save"
        >Add {{ counted(readings.length, 'reading') }} as a run</ElButton
      >
    </template>
    <div class="choices">
      <label>Banks <NumberInput v-model="banks" :min="1" :max="4" size="small" name="Banks or cylinders" /></label>
      <ElRadioGroup v-model="loadAxis" size="small" aria-label="Load">
        <ElRadioButton value="throttle">Throttle %</ElRadioButton>
        <ElRadioButton value="manifold">Power setting, kPa</ElRadioButton>
      </ElRadioGroup>
      <ElCheckbox v-model="withExhaust" size="small" label="With exhaust gas, °C" />
      <ElInput
        v-model="name"
        size="small"
        maxlength="160"
        aria-label="Name of the readings"
        placeholder="Name, if you like"
      />
    </div>
    <div ref="grid" class="sheet">
      <table>
        <thead>
          <tr>
            <th scope="col" class="figures">#</th>
            <th scope="col">rpm</th>
            <th scope="col">{{ loadAxis === 'throttle' ? 'Throttle, %' : 'Manifold, kPa' }}</th>
            <th v-for="bank in banks" :key="bank" scope="col">{{ banks === 1 ? 'Reading' : `Bank ${bank}` }}</th>
            <template v-if="withExhaust">
              <th v-for="bank in banks" :key="bank" scope="col">
                {{ banks === 1 ? 'Exhaust, °C' : `Exhaust ${bank}, °C` }}
              </th>
            </template>
            <th scope="col">Says</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, r) in rows" :key="r">
            <td class="figures soft">{{ r + 1 }}</td>
            <td v-for="c in columns" :key="c">
              <input
                :value="row[c - 1] ?? ''"
                :data-cell="`${r}:${c - 1}`"
                class="figures cell"
                inputmode="decimal"
                autocomplete="off"
                :aria-label="`Line ${r + 1}, ${columnName(c)}`"
                @input="setCell(r, c - 1, ($event.target as HTMLInputElement).value)"
                @keydown="onKey($event, r, c - 1)"
              />
            </td>
            <td :class="{ fault: judged[r]!.fault, flattered: judged[r]!.said.includes('flatters') }">
              {{ judged[r]!.fault || judged[r]!.said }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="soft legend">
      Enter goes on; on an empty line it adds the readings as a run. Ranges as 13.1-13.3. Ctrl-Backspace drops a line.
      Kept in this browser until added.
    </p>
    <template #drawer>
      <div class="about">
        <h2>With a gauge only</h2>
        <p>
          Hold a point until the gauge settles, then write down what it shows, for each bank, as a number or the range
          it wanders over. Figures from {{ plain(4, 0) }} up are AFR of a gauge scaled for
          <span class="figures">{{ plain(scale, 2) }}</span>, smaller ones lambda.
        </p>
        <p>
          A reading weighs about as much as one pass of a sweep; a wide range weighs less. Two rounds of the same points
          tell more than one.
        </p>
        <p>
          Two banks that differ can average to a flattering number: the engine is hurt by the lean one. Readings of both
          are worth the trouble.
        </p>
        <h3>In this set</h3>
        <p v-if="stored.length === 0" class="soft">No hand readings yet.</p>
        <ul v-else>
          <li v-for="run in stored" :key="run.id">{{ run.name }}, {{ counted(run.samples, 'point') }}</li>
        </ul>
        <ElButton
          v-if="stored.length"
          size="small"
          @click="router.push({ name: 'mixture', params: { job: open.job!.id } })"
          >See them in the mixture field</ElButton
        >
      </div>
    </template>
  </StageSplit>
</template>

<style scoped>
.choices {
  display: grid;
  grid-template-columns: auto auto auto 1fr;
  gap: 16px;
  align-items: center;
  flex: none;
}
.sheet td {
  padding: 3px 8px;
  font-size: 13px;
}
.cell {
  width: 104px;
  height: 34px;
  padding: 0 8px;
  font-size: 16px;
  font-family: var(--figures);
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
}
@media (pointer: coarse) {
  .cell {
    height: 44px;
  }
}
/* On a phone what a line says stands on the screen beside its figures. */
@media (max-width: 700px) {
  .choices {
    grid-template-columns: auto;
    gap: 8px;
  }
  .cell {
    height: 44px;
    width: 64px;
    padding: 0 4px;
  }
  .sheet td,
  .sheet th {
    padding: 3px 4px;
  }
}
.flattered {
  color: var(--lean);
  font-weight: 700;
}
.legend {
  font-size: 12px;
}
.about {
  display: grid;
  justify-items: start;
  gap: 10px;
  padding-top: 12px;
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
