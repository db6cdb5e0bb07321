<script setup lang="ts">
import { ElAlert, ElButton, ElDialog, ElProgress } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { channelTitle, missingChannels } from '@yuzumix/core'
import { api, ProblemError } from '@/api/client'
import { uploadLog } from '@/api/uploadLog'
import { useJob } from '@/job/openJob'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { groupByHeader, readHead, type ChosenLog, type LogGroup } from './logHead'
import MappingTable from './MappingTable.vue'
import SetChoice from './SetChoice.vue'
import { NEW_SET, setsByDay, type DayOfFiles } from './setsByDay'

const files = defineModel<File[]>({ required: true })
const open = useJob()

type Outcome = {
  file: File
  group: LogGroup
  state: 'waiting' | 'going' | 'added' | 'same' | 'failed' | 'cancelled'
  share: number
  note: string
}
const phase = ref<'reading' | 'mapping' | 'adding' | 'done'>('reading')
const logs = ref<ChosenLog[]>([])
const groups = ref<LogGroup[]>([])
const outcomes = ref<Outcome[]>([])
const days = ref<DayOfFiles[]>([])
/** by day: the set that was made for its files */
let made = new Map<string, string>()
/** the job had no set: it makes its first by itself */
let isFirst = false
const rateHz = ref<number | undefined>()
const gaugeScale = ref<number | undefined>()
let controller = new AbortController()

const shown = computed({ get: () => files.value.length > 0, set: (value) => !value && close() })
const faulty = computed(() => logs.value.filter((log) => log.fault))
const has = (group: LogGroup, channel: string): boolean =>
  Object.values(group.mapping).some((one) => one?.channel === channel)
const missing = (group: LogGroup): string[] =>
  missingChannels(Object.values(group.mapping).flatMap((one) => one?.channel ?? [])).map(channelTitle)
const needsRate = computed(() => groups.value.some((group) => !has(group, 'time')))
const showsAfr = computed(() =>
  groups.value.some((group) =>
    Object.values(group.mapping).some((one) => one?.channel.startsWith('lambda') && /afr|a\/f/i.test(one.unit)),
  ),
)
const count = computed(() => groups.value.reduce((sum, group) => sum + group.files.length, 0))
const ready = computed(
  () =>
    count.value > 0 &&
    groups.value.every((group) => missing(group).length === 0) &&
    (!needsRate.value || Boolean(rateHz.value)),
)
const added = computed(() => outcomes.value.filter((one) => one.state === 'added').length)

watch(
  files,
  async (list) => {
    if (list.length === 0) return
    phase.value = 'reading'
    ;[outcomes.value, rateHz.value, gaugeScale.value] = [[], undefined, open.job!.gaugeScale]
    const [heads, remembered] = await Promise.all([Promise.all(list.map(readHead)), api.mappings().catch(() => ({}))])
    logs.value = heads
    groups.value = groupByHeader(heads, remembered)
    const { sets, runs, tables } = open
    days.value = setsByDay(
      groups.value.flatMap((group) => group.files),
      { sets, runs, tables },
    )
    made = new Map()
    isFirst = sets.length === 0 && days.value.length === 1
    phase.value = 'mapping'
  },
  { immediate: true },
)

// Files go into the job they were dropped on, and into no other.
watch(() => open.job?.id, close)

async function add(which: Outcome[], again = false): Promise<void> {
  const job = open.job!.id
  phase.value = 'adding'
  controller = new AbortController()
  for (const one of which) {
    if (controller.signal.aborted) {
      one.state = 'cancelled'
      continue
    }
    one.state = 'going'
    try {
      const set = await setFor(one.file)
      const run = await uploadLog(
        job,
        {
          file: one.file,
          mapping: one.group.mapping,
          sampleRateHz: has(one.group, 'time') ? null : (rateHz.value ?? null),
          ...(gaugeScale.value && { gaugeScale: gaugeScale.value }),
          set,
          again,
        },
        (share) => (one.share = share),
        controller.signal,
      )
      ;[one.state, one.share, one.note] = ['added', 1, run.warnings.join(' ')]
    } catch (error) {
      one.state = error instanceof ProblemError ? (error.status === 409 ? 'same' : 'failed') : 'cancelled'
      one.note = one.state === 'cancelled' ? 'Cancelled; nothing of it was stored.' : (error as Error).message
    }
  }
  phase.value = 'done'
  await dropEmpty()
  await open.reloadRuns().catch(() => undefined)
  if (outcomes.value.every((one) => one.state === 'added' && !one.note)) close()
}

/** The set of a file's day, made when its first file comes; none where the job has none and takes its first by itself. */
async function setFor(file: File): Promise<string | undefined> {
  const day = days.value.find((one) => one.files.some((other) => other === file))
  if (!day) return undefined
  if (day.set !== NEW_SET) return day.set
  if (isFirst) return undefined
  const known = made.get(day.day)
  if (known) return known
  const name = days.value.length > 1 ? `Set ${open.sets.length + 1}, ${day.day}` : `Set ${open.sets.length + 1}`
  const id = await open.addSet({ name })
  made.set(day.day, id)
  return id
}
/** A set that was made for files of which none came in is no set. */
async function dropEmpty(): Promise<void> {
  for (const [day, id] of made) {
    const own = days.value.find((one) => one.day === day)!.files
    if (outcomes.value.some((one) => one.state === 'added' && own.includes(one.file))) continue
    made.delete(day)
    await open.deleteSet(id).catch(() => undefined)
  }
}

function addAll(): void {
  outcomes.value = groups.value.flatMap((group) =>
    group.files.map((file): Outcome => ({ file, group, state: 'waiting', share: 0, note: '' })),
  )
  void add(outcomes.value)
}

function close(): void {
  controller.abort()
  files.value = []
  ;[logs.value, groups.value, outcomes.value] = [[], [], []]
}
const WORDS = {
  waiting: 'waiting',
  going: 'reading',
  added: 'added',
  same: 'already here',
  failed: 'not added',
  cancelled: 'cancelled',
}
</script>

<template>
  <ElDialog v-model="shown" title="Add runs" width="1040px" align-center append-to-body :close-on-click-modal="false">
    <p v-if="phase === 'reading'" role="status">Reading the first rows …</p>
    <template v-else-if="phase === 'mapping'">
      <ElAlert
        v-for="log in faulty"
        :key="log.file.name"
        type="error"
        :closable="false"
        :title="log.file.name"
        :description="log.fault"
      />
      <section v-for="group in groups" :key="group.signature" class="group">
        <h3>
          {{
            group.files.length === 1
              ? group.files[0]!.name
              : `${group.files.length} files with this header, first ${group.files[0]!.name}`
          }}
        </h3>
        <p class="soft">
          {{ group.remembered ? 'Mapped as you chose last time.' : 'Recognised by header and unit.' }} Columns left out
          stay out; the mapping is remembered for this header.
        </p>
        <MappingTable v-model="group.mapping" :group="group" />
        <p v-if="missing(group).length" class="needed" role="alert">
          Still needed: {{ missing(group).join(' and ') }}. Choose the column above.
        </p>
      </section>
      <SetChoice v-if="days.length > 1 || open.sets.length" v-model="days" />
      <div class="asks">
        <label v-if="needsRate"
          >No time column. Samples per second
          <NumberInput v-model="rateHz" :min="0.1" :max="10000" size="small" name="Samples per second"
        /></label>
        <label v-if="showsAfr"
          >The gauge shows this AFR at lambda 1
          <NumberInput
            v-model="gaugeScale"
            :min="4"
            :max="20"
            :step="0.1"
            :precision="2"
            size="small"
            name="Gauge scale"
        /></label>
      </div>
    </template>
    <ul v-else class="outcomes">
      <li v-for="one in outcomes" :key="one.file.name">
        <span class="name">{{ one.file.name }}</span>
        <ElProgress
          :percentage="Math.round(one.share * 100)"
          :status="one.state === 'added' ? 'success' : one.state === 'failed' ? 'exception' : ''"
          :aria-label="one.file.name"
        />
        <span :class="one.state">{{ WORDS[one.state] }}</span>
        <ElButton v-if="one.state === 'same' && phase === 'done'" size="small" @click="add([one], true)"
          >Add it again</ElButton
        >
        <p v-if="one.note" class="note">{{ one.note }}</p>
      </li>
    </ul>
    <template #footer>
      <ElButton v-if="phase === 'adding'" @click="controller.abort()">Cancel</ElButton>
      <template v-else-if="phase === 'mapping'">
        <ElButton @click="close">Cancel</ElButton>
        <ElButton type="primary" :disabled="!ready" @click="addAll"
          >Add {{ count }} {{ count === 1 ? 'run' : 'runs' }}</ElButton
        >
      </template>
      <ElButton v-else-if="phase === 'done'" type="primary" @click="close">{{ added }} added. Close</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.group {
  display: grid;
  gap: 8px;
  margin-top: 12px;
}
.needed {
  color: var(--alarm);
  font-weight: 700;
}
.asks {
  display: flex;
  gap: 24px;
  margin-top: 16px;
}
.outcomes {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 60vh;
  overflow-y: auto;
}
.outcomes li {
  display: grid;
  grid-template-columns: 1fr 260px 100px auto;
  gap: 4px 16px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
}
.note {
  grid-column: 1 / -1;
  color: var(--soft);
}
.failed {
  color: var(--alarm);
  font-weight: 700;
}
</style>
