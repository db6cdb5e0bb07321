<script setup lang="ts">
import { ElButton, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { RouterLink } from 'vue-router'
import { isRefusal, openGateWords, type SavedReport } from '@yuzumix/core'
import { api, urls } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useDisplay } from '@/stores/display'
import AnswerPanel from './AnswerPanel.vue'
import KeepPanel from './KeepPanel.vue'

const open = useJob()
const handling = useHandling()
const id = open.job!.id
const display = useDisplay()
const reader = ref<'customer' | 'workshop'>('customer')
const state = ref('all')
/** changes with whatever the report is made from, so that it is asked for anew */
const version = ref(0)
const isShown = ref(false)
const frame = ref<HTMLIFrameElement>()
const states = computed(() =>
  (open.job!.twoStates ?? []).flatMap(({ part, first, second }) => [`${part} ${first}`, `${part} ${second}`]),
)
const query = computed(() =>
  new URLSearchParams({
    for: reader.value,
    ...(state.value !== 'all' && { state: state.value }),
    power: display.powerUnit,
    torque: display.torqueUnit,
    mixture: display.unit,
  }).toString(),
)
watch([query, () => handling.complaints, () => handling.putBack], () => {
  isShown.value = false
  version.value++
})

const reports = shallowRef<SavedReport[]>([])
const stillOpen = ref<string[]>([])
const loadReports = async (): Promise<void> => void (reports.value = await api.reports(id))
watch(() => handling.heard.reports, loadReports)
/** what nothing is run before, and nobody ticked */
const openGates = ref('')
const loadGates = async (): Promise<void> => void (openGates.value = openGateWords(await api.rig(id)))
watch(() => handling.heard.handling, loadGates)
onMounted(() => Promise.all([loadReports(), loadGates()]).catch(notifyProblem))
async function save(): Promise<void> {
  const made = await handling.act((job) => api.saveReport(job, {}))
  if (!made) return
  await loadReports()
  notifyDone(`Report ${made.n} is saved.`)
}
async function handOver(): Promise<void> {
  stillOpen.value = []
  try {
    open.putJob(await api.handOver(id))
    await loadReports()
    notifyDone('The job is handed over with its report. It is read-only until it is reopened.')
  } catch (error) {
    if (isRefusal(error, 'not-done')) stillOpen.value = error.faults.map((one) => one.message)
    else notifyProblem(error)
  }
}
const print = (): void => frame.value?.contentWindow?.print()
</script>

<template>
  <StageSplit label="Report" drawer-label="What is open" problem="">
    <template #bar>
      <h1>Hand-over</h1>
      <ElRadioGroup v-model="reader" size="small" aria-label="Version of the report">
        <ElRadioButton value="customer">Customer's</ElRadioButton>
        <ElRadioButton value="workshop">Workshop's</ElRadioButton>
      </ElRadioGroup>
      <ElSelect v-if="states.length" v-model="state" size="small" class="state" aria-label="State of the machine">
        <ElOption value="all" label="all states" />
        <ElOption v-for="one in states" :key="one" :value="one" :label="one" />
      </ElSelect>
      <span class="space" />
      <a :href="urls.report(id, 'Pdf', query)" :download="`${open.job!.title}.pdf`">PDF, A4</a>
      <a :href="urls.report(id, 'Pdf', `${query}&paper=letter`)" :download="`${open.job!.title}, letter.pdf`"
        >PDF, Letter</a
      >
      <a :href="urls.report(id, 'Html', query)" :download="`${open.job!.title}.html`">One page</a>
      <ElButton size="small" @click="print">Print</ElButton>
    </template>
    <p v-if="!isShown" class="soft" role="status">Writing the report …</p>
    <iframe :key="version" ref="frame" title="Report" :src="urls.report(id, 'Html', query)" @load="isShown = true" />
    <template #drawer>
      <div class="panel">
        <AnswerPanel />
        <KeepPanel />
        <h2>Report</h2>
        <p class="soft">
          {{ reports.length ? `Report ${reports.at(-1)!.n} is saved.` : 'No report is saved yet.' }}
        </p>
        <ElButton :disabled="handling.isDone" @click="save">Save report {{ (reports.at(-1)?.n ?? 0) + 1 }}</ElButton>
        <h2>Hand over</h2>
        <p v-if="handling.isDone">Handed over.</p>
        <template v-else>
          <p v-if="handling.openCount" class="soft">
            {{ handling.openCount }} to be put back, at
            <RouterLink :to="{ name: 'rig', params: { job: id } }">Rig</RouterLink>.
          </p>
          <p v-if="openGates" class="soft">
            {{ openGates }} The report says so. <RouterLink :to="{ name: 'rig', params: { job: id } }">Rig</RouterLink>
          </p>
          <div v-if="stillOpen.length" role="alert" class="open">
            <strong>Not done yet:</strong>
            <ul>
              <li v-for="one in stillOpen" :key="one">{{ one }}</li>
            </ul>
          </div>
          <ElButton type="primary" @click="handOver">Hand the job over</ElButton>
        </template>
      </div>
    </template>
  </StageSplit>
</template>

<style scoped>
.state {
  width: 150px;
}
iframe {
  flex: 1;
  min-height: 0;
  width: 100%;
  background: #fff;
  border: 1px solid var(--line);
  border-radius: 6px;
}
.panel {
  display: grid;
  gap: 10px;
  padding-top: 12px;
  justify-items: start;
}
.open {
  padding: 8px 12px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
ul {
  margin: 4px 0 0;
  padding-left: 18px;
}
</style>
