<script setup lang="ts">
import { ElButton, ElMessageBox } from 'element-plus'
import { ref } from 'vue'
import { notifyDone, notifyProblem } from '@/api/notify'
import { withReason } from '@/api/withReason'
import { api } from '@/api/client'
import { useJob } from '@/job/openJob'
import CompareTables from './CompareTables.vue'
import type { Bench } from './useBench'
import WaysInController from './WaysInController.vue'
import { useControllerRows, type ControllerRow } from './useControllerRows'
import { counted } from '@/parts/numbers/format'

const props = defineProps<{ bench: Bench }>()
const open = useJob()
const { state, unkept } = props.bench
const working = ref(false)
const isLow = ref(false)
function setLow(low: boolean): void {
  isLow.value = low
  void props.bench.faults({ lowBattery: low ? 2.2 : 0 })
}

const rows = useControllerRows(props.bench)
const compared = ref<ControllerRow | null>(null)
async function doing(work: () => Promise<unknown>): Promise<void> {
  working.value = true
  try {
    await work()
  } catch (error) {
    notifyProblem(error)
  } finally {
    working.value = false
  }
}
/** What is permanent, and not undone by one press, is asked about once. */
async function restore(): Promise<void> {
  const asked = await ElMessageBox.confirm(
    'All tables of the controller go back to what was in them before the first write, permanently. What was written stays in the job as revisions.',
    'Restore what was there first?',
    { confirmButtonText: 'Restore', cancelButtonText: 'Leave it' },
  ).catch(() => null)
  if (asked) await doing(() => props.bench.tell('restore'))
}
/** What the controller holds becomes a revision of the job's table: somebody else may have written it. */
async function takeContents({ own, inside }: ControllerRow): Promise<void> {
  const { info, revision } = own!
  const saved = await withReason((override) =>
    api.addRevision(open.job!.id, info.id, {
      values: inside.table.values,
      parent: revision,
      reason: 'As read from the bench',
      ...(override && { override }),
    }),
  )
  if (saved) open.putTable(saved)
}
async function takeIn({ inside }: ControllerRow): Promise<void> {
  const { name, cylinder, table } = inside
  try {
    open.putTable(await api.addTable(open.job!.id, { name, cylinder, table, reason: 'As read from the bench' }))
    notifyDone(`"${name}" is a table of the job now.`)
  } catch (error) {
    notifyProblem(error)
  }
}
</script>

<template>
  <div class="panel">
    <template v-if="state && !state.controller.readable">
      <p class="alarm" role="alert">
        The controller does not answer: a write was cut off. Put a charger on the battery, then recover it. It comes
        back with what was in it first.
      </p>
      <ElButton type="primary" :loading="working" @click="doing(() => bench.tell('recover'))"
        >Recover the controller</ElButton
      >
    </template>
    <template v-else-if="state">
      <p v-if="unkept.length" class="unkept" role="note">
        Written but not kept: {{ unkept.join(', ') }}. It is lost when power goes.
      </p>
      <ul>
        <li v-for="row in rows" :key="row.id">
          <strong>{{ row.name }}</strong>
          <template v-if="row.own">
            <p class="soft">
              {{
                row.own.differ
                  ? `Revision ${row.own.revision} of "${row.own.info.name}" differs in ${counted(row.own.differ, 'cell')}.`
                  : `The same as revision ${row.own.revision} of "${row.own.info.name}".`
              }}
            </p>
            <div class="line">
              <ElButton
                size="small"
                type="primary"
                :disabled="row.own.differ === 0"
                :loading="working"
                @click="doing(() => bench.write(row.id, row.own!.info.table.values))"
                >Write revision {{ row.own.revision }} to bench</ElButton
              >
              <ElButton size="small" :disabled="row.own.differ === 0" @click="compared = row">Cell by cell</ElButton>
              <ElButton v-if="row.own.differ" size="small" :loading="working" @click="doing(() => takeContents(row))"
                >Take its contents in as revision {{ row.own.revision + 1 }}</ElButton
              >
            </div>
          </template>
          <template v-else>
            <p class="soft">The job has no table like it yet.</p>
            <ElButton size="small" @click="takeIn(row)">Take it into the job</ElButton>
          </template>
        </li>
      </ul>
      <WaysInController :bench="bench" :working="working" @write="doing" />
      <div class="line">
        <ElButton
          size="small"
          type="primary"
          :disabled="unkept.length === 0"
          :loading="working"
          @click="doing(() => bench.tell('keep'))"
          >Keep what is written</ElButton
        >
        <ElButton size="small" :disabled="!state.controller.changed" :loading="working" @click="restore"
          >Restore what was there first</ElButton
        >
        <ElButton size="small" :loading="working" @click="doing(() => bench.tell('power-cycle'))"
          >Cut power and give it back</ElButton
        >
      </div>
      <p class="soft small">
        {{ bench.isTurning() ? 'The engine is stopped before a write. ' : '' }}A write is volatile until it is kept. The
        first contents are saved in the job before the first write. Support the battery during writes.
      </p>
    </template>
    <CompareTables
      v-if="compared?.own"
      :inside="compared.inside.table"
      :own="compared.own.info.table"
      :title="`${compared.name}: controller and revision ${compared.own.revision}`"
      @close="compared = null"
    />
    <template v-if="state">
      <h3>Faults to learn from</h3>
      <div class="line">
        <ElButton size="small" :aria-pressed="isLow" @click="setLow(!isLow)">{{
          isLow ? 'Battery charged again' : 'Let the battery run low'
        }}</ElButton>
        <ElButton size="small" @click="bench.faults({ dropDuringWrite: true })">Drop during the next write</ElButton>
      </div>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
  justify-items: start;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
}
li {
  display: grid;
  gap: 4px;
  justify-items: start;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.line :deep(.el-button + .el-button) {
  margin-left: 0;
}
.alarm {
  padding: 10px;
  border-left: 4px solid var(--alarm);
  background: var(--paper);
}
.unkept {
  width: 100%;
  padding: 8px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
  font-weight: 700;
}
</style>
