<script setup lang="ts">
import { ElButton, ElForm } from 'element-plus'
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import { isRefusal, checkInput, jobChangeSchema } from '@yuzumix/core'
import { notifyDone, notifyProblem } from '@/api/notify'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import JobFields from '@/parts/form/JobFields.vue'
import { formFrom, jobFrom } from '@/parts/form/jobForm'
import TwoFuels from './TwoFuels.vue'

/** The machine and its fuel. */
const open = useJob()
const handling = useHandling()
/** The job of this form, whatever is open when its last words are saved. */
const own = open.job!.id
const saved = shallowRef(open.job!)
watch(
  () => open.job,
  (now) => {
    if (now?.id !== own) return
    // What was changed elsewhere is taken, unless something is being typed here.
    const untouched = !isTyped.value
    saved.value = now
    if (untouched) form.value = formFrom(now)
  },
)
const form = ref(formFrom(saved.value))
const faults = ref<Record<string, string>>({})

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
    if (isRefusal(error))
      faults.value = Object.fromEntries(error.faults.map((fault) => [fault.field ?? '', fault.message]))
    if (!isRefusal(error, 'input-refused')) notifyProblem(error)
    return false
  }
}
async function saveNow(): Promise<void> {
  if (!(await save())) return
  await handling.reload(own).catch(notifyProblem)
  notifyDone('The brief is saved.')
}
// Whatever was typed is saved as one leaves the field, the stage or the job.
onBeforeUnmount(() => void save())
</script>

<template>
  <ElForm label-position="top" @submit.prevent="saveNow" @focusout="save">
    <TwoFuels />
    <JobFields v-model="form" :faults="faults" />
    <ElButton type="primary" native-type="submit">Save the brief</ElButton>
  </ElForm>
</template>
