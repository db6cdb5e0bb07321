<script setup lang="ts">
import { ElButton, ElInput, ElProgress } from 'element-plus'
import { computed, ref, watch } from 'vue'
import {
  fittedText,
  cameTrue,
  SLOT_NAMES,
  type Fitted,
  type Predicted,
  type Proposal,
  type Weather,
} from '@yuzumix/core'
import { notifyDone, notifyProblem } from '@/api/notify'
import { plain } from '@/parts/numbers/format'
import ProposalRow from './ProposalRow.vue'
import AirFields from '@/parts/numbers/AirFields.vue'
import { useJob } from '@/job/openJob'
import FittedFields from './FittedFields.vue'
import { usualFitted } from './usualFitted'
import type { Jetting } from './useJetting'

/** What is fitted, and which parts of the box would serve better. */
const props = defineProps<{ jetting: Jetting }>()
const shown = defineModel<Proposal | null>('shown', { required: true })
const {
  settings,
  fitted,
  present,
  carburettor,
  list,
  busy,
  progress,
  model,
  trust,
  readings,
  warnings,
  fromFile,
  told,
} = props.jetting

const draft = ref<Fitted[]>([])
const isEditing = ref(false)
function edit(): void {
  const now = present.value?.fitting.fitted
  draft.value = settings.value.carburettors.map((_, k) => ({ ...(now?.[k] ?? usualFitted(settings.value)) }))
  isEditing.value = true
}
watch(
  () => [present.value, settings.value] as const,
  ([now]) => {
    if (!now) edit()
  },
  { immediate: true },
)
watch(fromFile, (parts) => {
  if (!parts) return
  edit()
  draft.value[carburettor.value] = parts
  fromFile.value = null
})
const reason = ref('')
const open = useJob()
/** the air it is read in: a jet is right for one */
const air = ref<Partial<Weather>>({ ...(present.value?.weather ?? open.set?.weather) })
const airFault = computed(() => {
  const said = Object.values(air.value).filter((one) => typeof one === 'number').length
  return said === 0 || said === 3 ? '' : 'The air wants all three of its figures, or none.'
})
const airNow = computed(() =>
  Object.values(air.value).some((one) => typeof one === 'number') ? (air.value as Weather) : null,
)
const working = ref(false)
async function fit(parts: Fitted[], why: string, predicted: Predicted[][] | null): Promise<void> {
  // It is said beside the fields.
  if (airFault.value) return
  working.value = true
  try {
    await props.jetting.fit(parts, why, predicted, airNow.value)
    isEditing.value = false
    reason.value = ''
    shown.value = null
    notifyDone('Recorded. Runs and readings from now on are its own.')
  } catch (error) {
    notifyProblem(error)
  } finally {
    working.value = false
  }
}
function take(proposal: Proposal): Promise<void> {
  const all = (present.value?.fitting.fitted ?? []).map((one, k) =>
    k === carburettor.value ? proposal.fitted : { ...one },
  )
  const predicted = all.map((_, k) => (k === carburettor.value ? proposal.predicted : []))
  return fit(all, `Proposed: ${words(proposal)}`, predicted)
}
const words = (proposal: Proposal): string =>
  proposal.changed.map((slot) => `${SLOT_NAMES[slot]} ${fitted.value?.[slot]} → ${proposal.fitted[slot]}`).join(', ')
const groups = computed(() =>
  (list.value?.byChanges ?? []).map((proposals, k) => ({ title: ['One change', 'Two', 'Three'][k]!, proposals })),
)
const isRead = computed(() => (readings.value.get(present.value?.id ?? '')?.[carburettor.value]?.length ?? 0) > 0)
/** How well the last proposal came true, % RMS of lambda. */
const proof = computed(() =>
  cameTrue(
    present.value?.fitting.predicted?.[carburettor.value] ?? [],
    readings.value.get(present.value?.id ?? '')?.[carburettor.value] ?? [],
  ),
)
</script>

<template>
  <div class="panel">
    <template v-if="isEditing">
      <h3>{{ present ? 'Fit something else' : 'What is fitted now' }}</h3>
      <template v-for="(one, k) in draft" :key="k">
        <strong v-if="draft.length > 1">{{ settings.carburettors[k]?.name }}</strong>
        <FittedFields
          v-model="draft[k]!"
          :body="settings.body"
          :box="settings.box"
          :name="settings.carburettors[k]?.name ?? 'Carburettor'"
        />
      </template>
      <strong>The air it is read in</strong>
      <AirFields v-model="air" />
      <p :class="airFault ? 'alarm' : 'soft'" class="air" role="status">
        {{ airFault || (airNow ? 'Kept with what is fitted.' : 'Not said: proposals hold for air as it was read in.') }}
      </p>
      <ElInput v-if="present" v-model="reason" size="small" placeholder="Why" aria-label="Why" maxlength="400" />
      <div class="line">
        <ElButton
          type="primary"
          size="small"
          :loading="working"
          :disabled="jetting.isSaving.value"
          @click="fit(draft, reason, null)"
          >Record as fitted</ElButton
        >
        <ElButton v-if="present" size="small" @click="isEditing = false">Leave it</ElButton>
      </div>
    </template>
    <template v-else-if="present && fitted">
      <h3>Fitted now</h3>
      <p>{{ fittedText(fitted, null, settings.body.kind) }}</p>
      <p v-if="proof !== null" class="figures">read against predicted: {{ plain(proof, 1) }} % RMS</p>
      <ElButton size="small" @click="edit">Fit something else</ElButton>
      <p v-if="jetting.fault.value" class="alarm" role="alert">{{ jetting.fault.value }}</p>

      <h3>Parts that would serve better</h3>
      <p v-if="trust.word !== 'full'" class="note">
        Trust is {{ trust.word }}: checks left open: {{ trust.left }}. The intervals are wider for it.
      </p>
      <p v-if="!isRead" class="soft">Nothing is read with this fitting yet. Type readings, or add a log.</p>
      <div v-if="busy" class="line wide">
        <ElProgress :percentage="Math.round(100 * progress)" />
        <ElButton size="small" @click="jetting.cancel()">Stop</ElButton>
      </div>
      <p v-for="warning in warnings" :key="warning" class="alarm" role="alert">{{ warning }}</p>
      <template v-if="warnings.length === 0 && (list || told.inadequate)">
        <p v-if="told.inadequate" class="alarm" role="alert">{{ told.inadequate }}</p>
        <template v-if="told.advice.length">
          <h4>What the readings tell</h4>
          <ul>
            <li v-for="one in told.advice" :key="one" class="said">{{ one }}</li>
          </ul>
        </template>
        <p class="soft">{{ told.air }}</p>
      </template>
      <template v-if="list && warnings.length === 0">
        <p v-if="model?.unknown.length" class="note">
          Nothing is known of: {{ model.unknown.join(', ') }}. Read at openings where they bear; until then their parts
          are left alone.
        </p>
        <p v-if="groups.every((group) => group.proposals.length === 0)">
          Nothing in the box is better beyond its doubt without leaning another opening.
        </p>
        <template v-for="group in groups.filter((one) => one.proposals.length > 0)" :key="group.title">
          <h4>{{ group.title }}</h4>
          <ul>
            <ProposalRow
              v-for="proposal in group.proposals"
              :key="words(proposal)"
              :proposal="proposal"
              :words="words(proposal)"
              :now="list.now"
              :is-shown="shown === proposal"
              :disabled="working"
              @show="shown = shown === proposal ? null : proposal"
              @fit="take(proposal)"
            />
          </ul>
        </template>
        <p class="soft small">
          {{ list.tried.toLocaleString('en').replaceAll(',', '\u202f') }} combinations tried. Off target: weighted RMS,
          full throttle counts most, lean twice. Lean and hot at full load destroys pistons; watch the first run.
        </p>
      </template>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
  justify-items: start;
}
h4 {
  margin: 6px 0 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
}
.said {
  padding: 6px 4px;
  border-bottom: 1px solid var(--line);
  font-size: 13px;
}
.line {
  display: flex;
  gap: 8px;
}
.wide {
  width: 100%;
}
.note {
  padding: 8px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
.alarm {
  padding: 6px 10px;
  border-left: 4px solid var(--alarm);
}
/* One line whatever it says: a button below must not move under the pointer. */
.air {
  margin: 0;
  padding: 6px 10px;
  min-height: 34px;
}
.panel :deep(.el-progress) {
  width: 100%;
}
</style>
