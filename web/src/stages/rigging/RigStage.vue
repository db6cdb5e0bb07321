<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'
import { ratioWords, rigMinutes, signed, type ProbeCheck, type RigLine, type Rigging, mayHaveLoop } from '@yuzumix/core'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { actOf } from '@/parts/keys/keymap'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import PutBackPanel from './PutBackPanel.vue'
import RigChoices from './RigChoices.vue'
import RigClock from './RigClock.vue'

const open = useJob()
const handling = useHandling()
const id = open.job!.id
const lines = shallowRef<RigLine[]>([])
const checks = shallowRef<(ProbeCheck & { cylinder: number })[]>([])
function checkWords({ first, second, differencePct, agree, off }: ProbeCheck): string {
  const by = `Probes ${first} and ${second} in one gas differ by ${signed(differencePct)} %`
  if (agree) return `${by}: they agree.`
  return off === null
    ? `${by}. Check both in free air: one is off.`
    : `${by}. Probe ${off} is off: where the loop holds λ 1 the other reads it.`
}
const problem = ref('')
const at = ref(0)
const list = ref<HTMLElement>()
let round = 0
async function reload(): Promise<void> {
  const mine = ++round
  try {
    const found = await api.rig(id)
    const probes = await api.probes(id)
    if (mine === round) [lines.value, checks.value, problem.value] = [found, probes, '']
  } catch (error) {
    if (mine === round) problem.value = (error as Error).message
  }
}
onMounted(reload)
// Ticked, or told otherwise, in another window.
watch(() => [handling.heard.handling, handling.heard.job], reload)
async function choose(change: Rigging): Promise<void> {
  try {
    await open.change({ rigging: { ...open.job!.rigging, ...change } })
    await reload()
  } catch (error) {
    notifyProblem(error)
  }
}
/** Runs of the set looked at were made in one gear. */
const ratio = computed(() =>
  ratioWords(open.runs.filter((run) => run.set === open.set?.id).flatMap((run) => run.facts?.ratio ?? [])),
)
const minutes = computed(() => rigMinutes(lines.value))
const gates = computed(() => lines.value.filter((one) => one.gate && !one.done))

async function tick(line: RigLine): Promise<void> {
  // Shown at once; what the server says is shown after it.
  const put = (done: boolean): void => {
    lines.value = lines.value.map((one) => (one.id === line.id ? { ...one, done } : one))
  }
  put(!line.done)
  try {
    await open.saved(() => api.tickRigLine(id, line.id, { done: !line.done }))
    void handling.reload(id)
  } catch (error) {
    put(line.done)
    notifyProblem(error)
  }
}
async function focus(next: number): Promise<void> {
  at.value = Math.min(lines.value.length - 1, Math.max(0, next))
  await nextTick()
  list.value?.querySelector<HTMLElement>('[tabindex="0"]')?.focus()
}
function onKey(event: KeyboardEvent): void {
  const pressed = actOf('rig', event)
  if (!pressed) return
  event.preventDefault()
  if (pressed === 'tick') void tick(lines.value[at.value]!)
  else void focus(at.value + (event.key === 'ArrowDown' ? 1 : -1))
}
const own = ref('')
async function add(): Promise<void> {
  if (!own.value.trim()) return
  try {
    await api.addRigLine(id, { text: own.value.trim() })
    own.value = ''
    await reload()
  } catch (error) {
    notifyProblem(error)
  }
}
watch(lines, () => (at.value = Math.min(at.value, Math.max(0, lines.value.length - 1))))
</script>

<template>
  <StageSplit label="Rig list" drawer-label="Put back" :problem="problem">
    <template #bar>
      <h1>Rig</h1>
      <span class="figures soft">{{ minutes.left }} of {{ minutes.all }} min left</span>
      <span v-if="gates.length" class="gates" role="status">{{ gates.length }} gates open: nothing is run before</span>
      <span v-else-if="lines.length" role="status">all gates passed</span>
      <span class="space" />
      <RigClock />
    </template>
    <RigChoices
      :rigging="open.job!.rigging ?? {}"
      :cylinders="open.job!.machine?.cylinders ?? 1"
      :has-loop="mayHaveLoop(open.job!)"
      @choose="choose"
    />
    <p v-if="ratio" class="soft" role="status">{{ ratio }}</p>
    <p v-for="one in checks" :key="one.second" :class="{ caution: !one.agree }" role="status">{{ checkWords(one) }}</p>
    <ul ref="list" class="list" role="listbox" aria-label="Rig list" aria-multiselectable="true" @keydown="onKey">
      <li
        v-for="(line, k) in lines"
        :key="line.id"
        role="option"
        :tabindex="k === at ? 0 : -1"
        :aria-selected="line.done"
        :class="{ done: line.done, gate: line.gate }"
        @click="((at = k), tick(line))"
        @focus="at = k"
      >
        <span class="box" aria-hidden="true">{{ line.done ? '✓' : '' }}</span>
        <span>
          <strong>{{ line.text }}</strong>
          <span class="soft why">{{ line.why }}</span>
          <span v-if="line.from === 'like machine'" class="soft"> (from a like machine)</span>
          <span v-if="line.caution" class="caution">{{ line.caution }}</span>
        </span>
        <span class="figures soft">{{ line.gate ? 'gate' : '' }}</span>
        <span class="figures soft">{{ line.minutes === null ? '' : `${line.minutes} min` }}</span>
      </li>
    </ul>
    <form class="own" @submit.prevent="add">
      <ElInput
        v-model="own"
        size="small"
        maxlength="200"
        aria-label="A line of your own"
        placeholder="a line of your own, kept for the next like machine"
      />
      <ElButton size="small" native-type="submit">Add the line</ElButton>
    </form>
    <template #drawer><PutBackPanel /></template>
  </StageSplit>
</template>

<style scoped>
.gates {
  padding: 1px 8px;
  background: var(--yuzu);
  color: #22281f;
  border-radius: 4px;
}
.list {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  list-style: none;
  margin: 0;
  padding: 0;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
li {
  display: grid;
  grid-template-columns: 24px 1fr 40px 56px;
  gap: 8px;
  padding: 6px 10px;
  border-bottom: 1px solid var(--line);
  cursor: pointer;
  align-items: start;
}
li:focus-visible {
  outline-offset: -2px;
}
.why {
  margin-left: 8px;
}
.box {
  width: 20px;
  height: 20px;
  border: 1.5px solid var(--line-strong);
  border-radius: 4px;
  text-align: center;
  line-height: 17px;
  font-weight: 700;
  color: var(--leaf);
}
.gate .box {
  border-color: var(--ink);
  border-width: 2px;
}
.done strong {
  font-weight: 400;
}
.caution {
  display: block;
  margin-top: 2px;
  padding: 0 0 0 8px;
  border-left: 3px solid var(--yuzu);
  background: none;
  font-size: 13px;
}
.own {
  display: flex;
  gap: 8px;
  flex: none;
}
</style>
