<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import {
  channelTitle,
  oddRunWords,
  readAsWords,
  revisionOf,
  RUN_KINDS,
  sweepOf,
  type LeftOut,
  type OddRun,
  type RunInfo,
  type RunKind,
} from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { api } from '@/api/client'
import { notifyProblem, notifyWithUndo } from '@/api/notify'
import { withReason } from '@/api/withReason'
import { duration, grouped } from '@/parts/numbers/format'
import { useDoubts } from '@/job/doubts'
import { useJob } from '@/job/openJob'

const props = defineProps<{ run: RunInfo; odd: OddRun[]; warm: string | undefined }>()
const open = useJob()
const doubts = useDoubts()

const said = computed(() => props.odd.map(oddInWords))
const reason = ref(props.run.leftOut?.reason ?? '')
const worst = computed(() => props.odd[0] ?? null)

function oddInWords(odd: OddRun): string {
  const { sweep } = sweepOf(odd.run)
  const words = oddRunWords(odd, {
    probes: props.run.channels.filter((one) => one.channel.startsWith('lambda')).length,
    cylinders: open.job!.machine?.cylinders ?? null,
    name: open.cylinderName,
  })
  return sweep === null ? words : `Sweep ${sweep}: ${words}`
}

async function change(what: {
  kind?: RunKind
  set?: string
  removed?: boolean
  leftOut?: LeftOut | null
  revisions?: Record<string, number>
}): Promise<void> {
  const { run } = props
  const { id } = open.job!
  try {
    if (!(await withReason((override) => api.changeRun(id, run.id, { ...what, override })))) return
    await open.reloadRuns()
    if (what.removed)
      notifyWithUndo(`"${run.name}" is taken out.`, async () => {
        await api.changeRun(id, run.id, { removed: false })
        await open.reloadRuns()
      })
  } catch (error) {
    notifyProblem(error)
  }
}
function leaveOut(band: OddRun | null): Promise<void> {
  const given = reason.value.trim()
  const why = given || (band ? said.value[0]!.split('.')[0]! : (props.warm ?? 'Not said'))
  return change({
    leftOut: { fromRpm: band?.fromRpm ?? null, toRpm: band?.toRpm ?? null, reason: why.slice(0, 300) },
  })
}
</script>

<template>
  <div class="panel">
    <h3>{{ run.name }}</h3>
    <p v-for="one in said" :key="one" class="odd">{{ one }}</p>
    <p v-if="warm" class="soft">Looks like a warm-up run: {{ warm }}. It is kept out of mean and spread.</p>
    <p v-if="run.readAs">
      Read with {{ readAsWords(run.readAs) }}.
      <ElButton size="small" @click="doubts.read([run.id], null)">As logged</ElButton>
    </p>
    <p v-for="warning in run.warnings" :key="warning" class="warning">{{ warning }}</p>
    <template v-if="run.leftOut">
      <p>
        <strong>{{
          run.leftOut.fromRpm === null
            ? 'Left out.'
            : `Left out from ${grouped(run.leftOut.fromRpm)} to ${grouped(run.leftOut.toRpm!)} rpm.`
        }}</strong>
        {{ run.leftOut.reason }}
      </p>
      <ElButton size="small" @click="change({ leftOut: null })">Take it in again</ElButton>
    </template>
    <template v-else>
      <ElInput
        v-model="reason"
        size="small"
        maxlength="300"
        aria-label="Reason for leaving out"
        placeholder="Reason for leaving out, kept with the run"
      />
      <div class="acts">
        <ElButton v-if="worst" size="small" type="primary" @click="leaveOut(worst)"
          >Leave out {{ grouped(worst.fromRpm) }} to {{ grouped(worst.toRpm) }} rpm</ElButton
        >
        <ElButton size="small" @click="leaveOut(null)">Leave out the run</ElButton>
      </div>
    </template>
    <dl>
      <dt>Kind</dt>
      <dd>
        <ChoiceSelect
          :model-value="run.kind"
          :name="`Kind of ${run.name}`"
          @update:model-value="change({ kind: $event })"
          :choices="RUN_KINDS"
        />
      </dd>
      <template v-if="open.sets.length > 1">
        <dt>Set</dt>
        <dd>
          <ChoiceSelect
            :model-value="run.set"
            :name="`Set of ${run.name}`"
            @update:model-value="change({ set: $event })"
            :choices="open.sets.map((set) => ({ value: set.id, label: set.name }))"
          />
        </dd>
      </template>
      <template v-for="table in open.tables" :key="table.id">
        <dt>Made on</dt>
        <dd>
          <ChoiceSelect
            v-if="table.revisions.length > 1"
            :model-value="revisionOf(run, table)"
            :name="`Revision of ${table.name} that ${run.name} was made on`"
            @update:model-value="change({ revisions: { [table.id]: $event } })"
            :choices="table.revisions.map((one) => ({ value: one.n, label: `${table.name}, revision ${one.n}` }))"
          />
          <template v-else>{{ table.name }}, revision 1</template>
        </dd>
      </template>
      <dt>Length</dt>
      <dd class="figures">{{ duration(run.duration) }}, {{ grouped(run.samples) }} samples</dd>
      <template v-if="run.facts?.coolantFrom !== null && run.facts">
        <dt>Coolant</dt>
        <dd class="figures">{{ run.facts.coolantFrom }} to {{ run.facts.coolantTo }} °C</dd>
      </template>
      <dt>Channels</dt>
      <dd class="soft">{{ run.channels.map((one) => channelTitle(one.channel)).join(', ') }}</dd>
    </dl>
    <ElButton size="small" :aria-label="`Take out ${run.name}`" @click="change({ removed: true })"
      >Take out of the job</ElButton
    >
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.odd {
  color: var(--lean);
}
.warning {
  color: var(--el-color-warning);
  font-size: 13px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.acts :deep(.el-button + .el-button) {
  margin-left: 0;
}
dl {
  display: grid;
  grid-template-columns: 76px 1fr;
  gap: 4px 8px;
  margin: 0;
  width: 100%;
  align-items: baseline;
  font-size: 13px;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
</style>
