<script setup lang="ts">
import { useVirtualList } from '@vueuse/core'
import { ElCheckbox } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { isLeftOut, stopName, type OddRun, type RunInfo } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import DropLogs from '@/parts/intake/DropLogs.vue'
import ManyRuns from './ManyRuns.vue'
import RunPanel from './RunPanel.vue'
import TakenOut from './TakenOut.vue'

const props = defineProps<{
  runs: RunInfo[]
  front: string
  odd: ReadonlyMap<string, OddRun[]>
  warm: ReadonlyMap<string, string>
}>()
const emit = defineEmits<{ show: [run: RunInfo] }>()
const open = useJob()

/** Runs that are chosen to be changed together. */
const chosen = ref<ReadonlySet<string>>(new Set())
const several = computed(() => props.runs.filter((run) => chosen.value.has(run.id)))
const isAll = computed(() => several.value.length > 0 && several.value.length === props.runs.length)
let last = ''
/** With Shift, all from the last one that was chosen to this one. */
function choose(run: RunInfo, isSpan: boolean): void {
  const next = new Set(chosen.value)
  const ids = props.runs.map((one) => one.id)
  const [from, to] = [ids.indexOf(last), ids.indexOf(run.id)].sort((a, b) => a - b) as [number, number]
  const isChosen = !next.has(run.id)
  for (const id of isSpan && from >= 0 ? ids.slice(from, to + 1) : [run.id]) {
    if (isChosen) next.add(id)
    else next.delete(id)
  }
  ;[chosen.value, last] = [next, run.id]
}
const chooseAll = (isAllNow: boolean): void => {
  chosen.value = new Set(isAllNow ? props.runs.map((run) => run.id) : [])
}

const ROW = 38
const { list, containerProps, wrapperProps, scrollTo } = useVirtualList(
  computed(() => props.runs),
  { itemHeight: ROW, overscan: 8 },
)
const shown = computed(() => props.runs.find((run) => run.id === props.front) ?? null)
watch(
  () => props.front,
  (id) => {
    const at = props.runs.findIndex((run) => run.id === id)
    if (at >= 0 && !list.value.some(({ data }) => data.id === id)) scrollTo(Math.max(0, at - 2))
  },
)

/** What a run is, in a line. */
function about(run: RunInfo): string {
  const { facts } = run
  if (!facts) return run.kind
  const where = facts.stop === null ? '' : `${stopName(facts.stop)} · `
  const gear = facts.gear ?? open.set?.gear
  const what = facts.sweeps?.length ? `${facts.sweeps.length} sweeps` : run.kind
  return `${what} · ${where}${grouped(facts.fromRpm)} to ${grouped(facts.toRpm)} rpm${gear ? ` · gear ${gear}` : ''}`
}
/** What is to be said of it first. */
function mark(run: RunInfo): { text: string; kind: string } | null {
  if (isLeftOut(run)) return { text: 'left out', kind: 'left' }
  if (run.leftOut) return { text: 'band left out', kind: 'left' }
  if (run.readAs) return { text: 'read otherwise', kind: 'left' }
  const odd = props.odd.get(run.id)
  if (odd) return { text: odd.some((one) => one.misfire) ? 'odd · misfire?' : 'odd run', kind: 'odd' }
  if (props.warm.has(run.id)) return { text: 'warm-up', kind: 'warm' }
  return run.warnings.length ? { text: 'see warning', kind: 'left' } : null
}
</script>

<template>
  <div class="runs">
    <div class="head">
      <DropLogs compact />
      <ElCheckbox
        v-if="runs.length > 1"
        size="small"
        :model-value="isAll"
        :indeterminate="several.length > 0 && !isAll"
        :label="several.length ? `${several.length} of ${runs.length} chosen` : 'Choose all'"
        @update:model-value="chooseAll(Boolean($event))"
      />
      <TakenOut />
    </div>
    <div v-bind="containerProps" class="list" tabindex="0" aria-label="Runs of this set">
      <div v-bind="wrapperProps">
        <div
          v-for="{ data: run } in list"
          :key="run.id"
          class="line"
          :class="{ front: run.id === front, left: isLeftOut(run) }"
          :style="{ height: `${ROW}px` }"
        >
          <input
            v-if="runs.length > 1"
            type="checkbox"
            :checked="chosen.has(run.id)"
            :aria-label="`Choose ${run.name}`"
            @click="choose(run, $event.shiftKey)"
          />
          <button type="button" class="run" :aria-pressed="run.id === front" @click="emit('show', run)">
            <span class="name">{{ run.name }}</span>
            <span v-if="mark(run)" class="mark" :class="mark(run)!.kind">{{ mark(run)!.text }}</span>
            <span class="about soft figures" :title="about(run)">{{ about(run) }}</span>
          </button>
        </div>
      </div>
    </div>
    <ManyRuns v-if="several.length" :runs="several" @done="chosen = new Set()" />
    <RunPanel
      v-else-if="shown"
      :key="shown.id"
      :run="shown"
      :odd="odd.get(shown.id) ?? []"
      :warm="warm.get(shown.id)"
    />
    <p v-else class="soft hint">
      Choose a run to see what it is, why it stands out, and to leave out all or a band of it.
    </p>
  </div>
</template>

<style scoped>
.runs {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.head {
  display: flex;
  gap: 12px;
  align-items: center;
}
.list {
  /* Eleven rows where there is room: it keeps its height, whatever stands below. */
  height: clamp(230px, 52vh, 560px);
  border: 1px solid var(--line);
  border-radius: 4px;
}
.line {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  align-items: center;
  border-bottom: 1px solid var(--line);
}
.line input {
  width: 24px;
  height: 24px;
  margin: 0 0 0 6px;
  accent-color: var(--leaf);
}
.run {
  grid-column: -2;
  display: grid;
  grid-template: 'name mark' 19px 'about about' 17px / minmax(0, 1fr) auto;
  align-content: center;
  width: 100%;
  padding: 0 8px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.run:focus-visible {
  outline-offset: -2px;
}
.name {
  grid-area: name;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.about {
  grid-area: about;
  font-size: 12px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.mark {
  grid-area: mark;
  font-size: 12px;
  font-weight: 700;
}
.mark.odd {
  color: var(--lean);
}
.mark.left,
.mark.warm {
  color: var(--soft);
}
.front {
  background: var(--yuzu-soft);
}
.left .name {
  text-decoration: line-through;
}
.hint {
  font-size: 13px;
}
</style>
