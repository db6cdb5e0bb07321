<script setup lang="ts">
import { ElButton, ElCheckbox, ElCheckboxGroup, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { firstFrom } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { useFieldQuestion } from '@/job/useFieldQuestion'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { plain } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'
import { figureOf, type Lane, type Span } from './drawLog'
import LogCanvas from './LogCanvas.vue'
import { useLog } from './useLog'

/** A run over its seconds: channels chosen by eye, its stretches, and what does not count and why. */
const open = useJob()
const { options } = useFieldQuestion()
const {
  run,
  chosen,
  time,
  lanes: stored,
  all: allStored,
  shown,
  shaded,
  stretches,
  view,
  whole,
  problem,
  busy,
  change,
} = useLog(() => options.value)
const at = ref<number | null>(null)
const brushed = ref<Span | null>(null)
const stretch = ref<string | null>(null)
const named = ref('')
const one = computed(() => stretches.value.find((each) => each.id === stretch.value) ?? null)
watch(run, () => ([at.value, brushed.value, stretch.value] = [null, null, null]))
watch(one, (now) => (named.value = now?.name ?? ''))

const row = computed(() => (at.value === null ? -1 : Math.min(time.value.length - 1, firstFrom(time.value, at.value))))
const display = useDisplay()
/** Lanes as they are read: a mixture in the unit that is shown everywhere. */
const asRead = (lane: Omit<Lane, 'figure'>): Lane =>
  /^(lambda\d|commanded)$/.test(lane.channel)
    ? { ...lane, unit: display.mixtureUnit, figure: display.mixture }
    : { ...lane, figure: figureOf }
const lanes = computed(() => stored.value.map(asRead))
const all = computed(() => allStored.value.map(asRead))
const valueOf = ({ levels, figure }: Lane): string => {
  const value = levels.values[row.value]
  return value === undefined || Number.isNaN(value) ? '–' : figure(value)
}
/** Why what stands at the cursor does not count; empty where it does. */
const why = computed(() =>
  at.value === null ? '' : (shaded.value.find((span) => at.value! >= span.from && at.value! <= span.to)?.reason ?? ''),
)
function choose(id: string): void {
  stretch.value = id
  const { from, to } = stretches.value.find((each) => each.id === id)!
  const room = 0.25 * (to - from)
  view.value = { from: Math.max(whole.value.from, from - room), to: Math.min(whole.value.to, to + room) }
}
async function split(): Promise<void> {
  if (one.value && at.value !== null && (await change({ split: one.value.id, at: at.value }))) stretch.value = null
}
async function join(): Promise<void> {
  const k = stretches.value.findIndex((each) => each.id === one.value?.id)
  const next = stretches.value.slice(k + 1).find((each) => each.kind === one.value?.kind)
  if (one.value && next && (await change({ join: [one.value.id, next.id] }))) stretch.value = null
}
const rename = (): unknown => one.value && named.value.trim() && change({ id: one.value.id, name: named.value.trim() })
const showWhole = (): void => void (view.value = whole.value)
function showBrushed(): void {
  if (brushed.value) [view.value, brushed.value] = [brushed.value, null]
}
</script>

<template>
  <StageSplit label="A log over time" drawer-label="Channels and stretches" :problem="problem">
    <template #bar>
      <ViewSwitch />
      <ChoiceSelect
        v-if="run"
        class="run"
        name="Run"
        :model-value="run.id"
        :choices="open.runs.map((each) => ({ value: each.id, label: each.name }))"
        @update:model-value="chosen = $event"
      />
      <ElButton size="small" @click="showWhole">All of it</ElButton>
      <ElButton v-if="brushed" size="small" @click="showBrushed">Zoom to what is marked</ElButton>
      <span class="soft" role="status">
        <template v-if="busy">Fetching the log …</template>
        <template v-else-if="at !== null">{{ plain(at, 2) }} s{{ why ? `: set aside, ${why}` : '' }}</template>
        <template v-else>wheel zooms, drag moves, Shift-drag marks</template>
      </span>
    </template>
    <LogCanvas
      v-if="run && time.length > 1"
      v-model:view="view"
      v-model:at="at"
      v-model:brushed="brushed"
      :time="time"
      :lanes="lanes"
      :shaded="shaded"
      :stretches="stretches"
      :chosen="stretch"
      :whole="whole"
      @choose="choose"
    />
    <p v-else class="soft empty">Add a log at Runs: it stands here over its seconds, with what is found in it.</p>
    <p class="soft legend">Shaded: does not count for the mixture; the cursor says why.</p>
    <template #drawer>
      <h2>Channels</h2>
      <ElCheckboxGroup v-model="shown" class="channels" aria-label="Channels shown">
        <div v-for="lane in all" :key="lane.channel" class="channel">
          <ElCheckbox :value="lane.channel" :label="lane.title" size="small" />
          <span class="figures">{{ valueOf(lane) }} {{ lane.unit }}</span>
        </div>
      </ElCheckboxGroup>
      <h2>Stretches</h2>
      <p v-if="stretches.length === 0" class="soft">None found: a throttle is needed to tell them apart.</p>
      <div v-if="one" class="own">
        <ElInput v-model="named" size="small" maxlength="160" aria-label="Name of the stretch" @change="rename" />
        <ElButton size="small" :disabled="at === null || at <= one.from || at >= one.to" @click="split"
          >Split at the cursor</ElButton
        >
        <ElButton size="small" @click="join">Join with the next {{ one.kind }}</ElButton>
      </div>
      <ol class="stretches">
        <li v-for="each in stretches" :key="each.id">
          <button type="button" :aria-pressed="each.id === stretch" @click="choose(each.id)">
            <span>{{ each.name }}</span>
            <span class="figures">{{ plain(each.from, 1) }} to {{ plain(each.to, 1) }} s</span>
          </button>
        </li>
      </ol>
    </template>
  </StageSplit>
</template>

<style scoped>
.run {
  width: 240px;
}
.legend {
  font-size: 12px;
  margin: 0;
}
.empty {
  padding: 24px 0;
}
h2 {
  margin: 10px 0 4px;
}
.channels {
  display: grid;
}
.channel,
.stretches button {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}
.own {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 8px;
}
.own :deep(.el-button + .el-button) {
  margin-left: 0;
}
.stretches {
  list-style: none;
  margin: 0;
  padding: 0;
}
.stretches button {
  width: 100%;
  padding: 4px 6px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.stretches button[aria-pressed='true'] {
  background: var(--yuzu-soft);
}
</style>
