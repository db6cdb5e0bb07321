<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { ALIKE, CHANGED_PARTS, type ChangedPart } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { notifyDone, notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'

const open = useJob()
const parts = computed(() => open.job!.changed ?? [])
const states = computed(() => open.job!.twoStates ?? [])

const blank = (): ChangedPart => ({
  part: 'silencer',
  bore: 'not known',
  length: 'not known',
  removed: false,
  text: '',
})
const next = ref(blank())
const hasMeasures = (part: string): boolean => part === 'silencer' || part === 'header' || part === 'intake'

const save = (change: Parameters<typeof open.change>[0]): Promise<boolean> =>
  open.change(change).then(
    () => true,
    (error: Error) => {
      notifyProblem(error)
      return false
    },
  )
async function add(): Promise<void> {
  if (await save({ changed: [...parts.value, next.value] })) next.value = blank()
}
const drop = (at: number): Promise<boolean> => save({ changed: parts.value.filter((_, k) => k !== at) })

const part = ref('')
const first = ref('')
const second = ref('')
async function addStates(): Promise<void> {
  const made = { part: part.value.trim(), first: first.value.trim(), second: second.value.trim() }
  if (!made.part || !made.first || !made.second) return
  if (await save({ twoStates: [...states.value, made] })) [part.value, first.value, second.value] = ['', '', '']
}
/** The second state from the first: a set of its own for its runs, and a copy of each table as it stands. */
async function makeSecond({ part: what, second: other }: { part: string; second: string }): Promise<void> {
  try {
    const label = `${what} ${other}`
    await open.addSet({ name: label, setup: label })
    for (const info of open.tables.filter((one) => !one.name.endsWith(label)))
      await open.copyTable(info, `${info.name}, ${label}`.slice(0, 120))
    notifyDone(`Runs and tables for "${label}" are made. New runs go there.`)
  } catch (error) {
    notifyProblem(error)
  }
}
const isMade = ({ part: what, second: other }: { part: string; second: string }): boolean =>
  open.sets.some((set) => set.setup === `${what} ${other}`)
const partWords = ({ bore, length, removed }: ChangedPart): string =>
  removed ? 'taken out' : `bore ${bore}, length ${length}`
</script>

<template>
  <div class="panel">
    <h2>On exhaust and intake</h2>
    <form class="line" @submit.prevent="add">
      <ChoiceSelect size="default" v-model="next.part" name="Part" class="part" :choices="CHANGED_PARTS" />
      <template v-if="hasMeasures(next.part)">
        <label
          >bore <ChoiceSelect size="default" v-model="next.bore" name="Bore" class="alike" :choices="ALIKE"
        /></label>
        <label
          >length <ChoiceSelect size="default" v-model="next.length" name="Length" class="alike" :choices="ALIKE"
        /></label>
      </template>
      <ElCheckbox v-else v-model="next.removed" label="taken out" />
      <ElInput
        v-model="next.text"
        maxlength="300"
        aria-label="What it is now"
        placeholder="what it is now"
        class="text"
      />
      <ElButton type="primary" native-type="submit">Add</ElButton>
    </form>
    <ul class="cards">
      <li v-for="(one, k) in parts" :key="k">
        <strong>{{ one.part }}</strong>
        <span>{{ partWords(one) }}<template v-if="one.text">: {{ one.text }}</template></span>
        <ElButton size="small" :aria-label="`Drop ${one.part}`" @click="drop(k)">Drop</ElButton>
      </li>
    </ul>
    <h2>Parts ridden in two states</h2>
    <p class="soft">Each state needs runs and tables of its own: baffle in and out, lid on and off.</p>
    <form class="line" @submit.prevent="addStates">
      <ElInput v-model="part" maxlength="60" aria-label="Part with two states" placeholder="baffle" />
      <ElInput v-model="first" maxlength="60" aria-label="First state" placeholder="in" />
      <ElInput v-model="second" maxlength="60" aria-label="Second state" placeholder="out" />
      <ElButton native-type="submit">Add</ElButton>
    </form>
    <ul class="cards">
      <li v-for="(one, k) in states" :key="k">
        <strong>{{ one.part }}</strong>
        <span>{{ one.first }} / {{ one.second }}</span>
        <span v-if="isMade(one)" class="soft">runs and tables are there</span>
        <ElButton v-else size="small" @click="makeSecond(one)">Make "{{ one.second }}" from "{{ one.first }}"</ElButton>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 12px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}
.line label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.part {
  width: 140px;
}
.alike {
  width: 120px;
}
.text {
  flex: 1 1 160px;
}
.line > .el-input {
  flex: 1 1 120px;
}
</style>
