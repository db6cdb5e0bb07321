<script setup lang="ts">
import { ElButton, ElForm } from 'element-plus'
import dayjs from 'dayjs'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { checkInput, InputError, jobChangeSchema, type Entry } from '@yuzumix/core'
import { api, ProblemError } from '@/api/client'
import { sayDone, sayProblem } from '@/api/say'
import JobFields from '@/pages/jobs/JobFields.vue'
import { formFrom, jobFrom } from '@/pages/jobs/jobForm'
import { useJob } from '@/job/openJob'

const open = useJob()
/** The job of this form, whatever is open when its last words are saved. */
const own = open.job!.id
const saved = shallowRef(open.job!)
watch(
  () => open.job,
  (now) => now?.id === own && (saved.value = now),
)
const form = ref(formFrom(saved.value))
const faults = ref<Record<string, string>>({})
const entries = ref<Entry[]>([])

const loadEntries = async (): Promise<void> => void (entries.value = await api.entries(own))

/** What the form says differs from what is saved. */
const isTyped = computed(() => JSON.stringify(jobFrom(form.value)) !== JSON.stringify(jobFrom(formFrom(saved.value))))
const tell = (): void => {
  if (open.job?.id === own) open.notSaved('brief', isTyped.value ? 'Brief not saved' : '')
}
watch(isTyped, tell)

/** Saves what was typed; what cannot be saved stays in the form, with the fault beside it. */
async function save(): Promise<boolean> {
  faults.value = {}
  if (!isTyped.value) return true
  try {
    const change = jobFrom(form.value)
    checkInput(jobChangeSchema, change)
    await open.change(change, own)
    tell()
    return true
  } catch (error) {
    if (error instanceof InputError || error instanceof ProblemError)
      faults.value = Object.fromEntries(error.faults.map((fault) => [fault.field ?? '', fault.message]))
    if (!(error instanceof InputError)) sayProblem(error)
    return false
  }
}
async function saveNow(): Promise<void> {
  if (!(await save())) return
  await loadEntries().catch(sayProblem)
  sayDone('The brief is saved.')
}
// Whatever was typed is saved as one leaves the field, the stage or the job.
onBeforeUnmount(() => void save())

onMounted(() => loadEntries().catch(sayProblem))
</script>

<template>
  <div class="brief">
    <section>
      <h1>Brief</h1>
      <ElForm label-position="top" @submit.prevent="saveNow" @focusout="save">
        <JobFields v-model="form" :faults="faults" />
        <ElButton type="primary" native-type="submit">Save the brief</ElButton>
      </ElForm>
      <p class="caution">
        A running engine indoors needs exhaust extraction and a carbon monoxide alarm. Removing or disabling emission or
        noise equipment is illegal for road use in many places: the local rules decide. Aircraft and other licensed
        work: read and record here, leave changes to a licensed mechanic.
      </p>
    </section>
    <aside aria-label="Logbook" tabindex="0">
      <h2>Logbook</h2>
      <ol class="entries">
        <li v-for="entry in entries" :key="entry.id">
          <span class="figures soft">{{ dayjs(entry.at).format('D MMM HH:mm') }}</span>
          <span
            ><strong>{{ entry.act }}</strong> {{ entry.text }}</span
          >
        </li>
      </ol>
    </aside>
  </div>
</template>

<style scoped>
.brief {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 1fr);
  height: 100%;
}
section,
aside {
  overflow-y: auto;
  padding: 20px 24px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
aside {
  background: var(--panel);
  border-left: 1px solid var(--line);
}
.caution {
  padding: 12px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
.entries {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
.entries li {
  display: grid;
  grid-template-columns: 104px 1fr;
  overflow-wrap: anywhere;
}
</style>
