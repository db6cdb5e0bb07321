<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { isLeftOut, revisionOf, type RunInfo, type RunsChange } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { api } from '@/api/client'
import { notifyProblem, notifyWithUndo } from '@/api/notify'
import { withReason } from '@/api/withReason'
import { counted } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import { NEW_SET } from '@/parts/intake/setsByDay'

/** What is done with several runs at once: one act, one line in the logbook, one way back. */
const props = defineProps<{ runs: RunInfo[] }>()
const emit = defineEmits<{ done: [] }>()
const open = useJob()
const reason = ref('')
const name = ref('')
const busy = ref(false)
const ids = computed(() => props.runs.map((run) => run.id))
const allLeftOut = computed(() => props.runs.every(isLeftOut))

type Change = Omit<RunsChange, 'runs' | 'override'>
async function change(what: Change): Promise<void> {
  const { id } = open.job!
  const [runs, before] = [ids.value, props.runs]
  busy.value = true
  try {
    const done = await withReason((override) => api.changeRuns(id, { ...what, runs, override }))
    if (!done) return
    // Runs that leave the list take this panel with them: it says so first.
    emit('done')
    notifyWithUndo(`${counted(before.length, 'run')} changed.`, () => undo(id, before, what))
    await open.reloadRuns()
  } catch (error) {
    notifyProblem(error)
  } finally {
    busy.value = false
  }
}
const statesOf = (run: RunInfo, tables: readonly string[]): Record<string, number> =>
  Object.fromEntries(open.tables.filter((one) => tables.includes(one.id)).map((one) => [one.id, revisionOf(run, one)]))
/** Puts back what each of them was: runs that were alike before go together. */
async function undo(job: string, before: readonly RunInfo[], what: Change): Promise<void> {
  const was = (run: RunInfo): Change => ({
    ...(what.set !== undefined && { set: run.set }),
    ...(what.revisions && { revisions: statesOf(run, Object.keys(what.revisions)) }),
    ...(what.leftOut !== undefined && { leftOut: run.leftOut }),
    ...(what.name !== undefined && { name: run.name }),
    ...(what.removed !== undefined && { removed: !what.removed }),
  })
  const alike = new Map<string, RunInfo[]>()
  for (const run of before) {
    const key = JSON.stringify(was(run))
    alike.set(key, [...(alike.get(key) ?? []), run])
  }
  for (const runs of alike.values()) {
    const { name: own, ...back } = was(runs[0]!)
    if (own === undefined) {
      const asked = { ...back, runs: runs.map((run) => run.id) }
      await withReason((override) => api.changeRuns(job, { ...asked, override }))
    } else for (const run of runs) await api.changeRun(job, run.id, { name: own })
  }
  await open.reloadRuns()
}
async function moveTo(set: string): Promise<void> {
  if (set !== NEW_SET) return change({ set })
  try {
    // The list stays where it is: what was chosen in it is moved next.
    const made = await open.addSet({ name: `Set ${open.sets.length + 1}` }, false)
    await change({ set: made })
  } catch (error) {
    notifyProblem(error)
  }
}
</script>

<template>
  <section class="many" :aria-label="`${runs.length} runs chosen`">
    <h3>{{ counted(runs.length, 'run') }} chosen</h3>
    <label
      >Move to
      <ElSelect
        :model-value="undefined"
        size="small"
        :disabled="busy"
        placeholder="choose a set"
        aria-label="Set that they move to"
        @update:model-value="moveTo"
      >
        <ElOption v-for="set in open.sets" :key="set.id" :value="set.id" :label="set.name" />
        <ElOption :value="NEW_SET" label="A new set" />
      </ElSelect>
    </label>
    <template v-for="table in open.tables" :key="table.id">
      <label v-if="table.revisions.length > 1"
        >Made on, of {{ table.name }}
        <ChoiceSelect
          :model-value="undefined"
          :disabled="busy"
          placeholder="choose a revision"
          :name="`Revision of ${table.name} that they were made on`"
          @update:model-value="change({ revisions: { [table.id]: $event } })"
          :choices="table.revisions.map((one) => ({ value: one.n, label: `revision ${one.n}: ${one.reason}` }))"
        />
      </label>
    </template>
    <form @submit.prevent="name.trim() && change({ name: name.trim() })">
      <label
        >Rename to
        <ElInput
          v-model="name"
          size="small"
          maxlength="150"
          aria-label="Name of all of them"
          placeholder="40 % long baffle, # for the number"
      /></label>
      <ElButton size="small" native-type="submit" :disabled="busy || !name.trim()">Rename</ElButton>
    </form>
    <ElButton v-if="allLeftOut" size="small" :disabled="busy" @click="change({ leftOut: null })"
      >Take them in again</ElButton
    >
    <form v-else @submit.prevent="change({ leftOut: { fromRpm: null, toRpm: null, reason: reason.trim() } })">
      <label
        >Leave out, for
        <ElInput
          v-model="reason"
          size="small"
          maxlength="300"
          aria-label="Reason for leaving them out"
          placeholder="Reason, kept with the runs"
      /></label>
      <ElButton size="small" native-type="submit" :disabled="busy || !reason.trim()">Leave out</ElButton>
    </form>
    <ElButton size="small" :disabled="busy" @click="change({ removed: true })">Take out of the job</ElButton>
  </section>
</template>

<style scoped>
.many {
  display: grid;
  gap: 10px;
  justify-items: start;
}
label {
  display: grid;
  gap: 2px;
  width: 100%;
  color: var(--soft);
  font-size: 13px;
}
form {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: end;
  width: 100%;
}
</style>
