<script setup lang="ts">
import { ElButton, ElDialog, ElForm } from 'element-plus'
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { isRefusal, checkInput, newJobSchema } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import JobFields from '../../parts/form/JobFields.vue'
import { formFrom, jobFrom } from '../../parts/form/jobForm'

const shown = defineModel<boolean>({ required: true })
const router = useRouter()
const form = ref(formFrom())
const faults = ref<Record<string, string>>({})
const busy = ref(false)

watch(shown, (now) => now && ([form.value, faults.value] = [formFrom(), {}]))

async function make(): Promise<void> {
  const job = jobFrom(form.value)
  faults.value = {}
  try {
    checkInput(newJobSchema, job)
    busy.value = true
    const made = await api.createJob(job)
    shown.value = false
    await router.push({ name: 'brief', params: { job: made.id } })
  } catch (error) {
    if (isRefusal(error))
      faults.value = Object.fromEntries(error.faults.map((fault) => [fault.field ?? '', fault.message]))
    if (!isRefusal(error, 'input-refused')) notifyProblem(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <ElDialog v-model="shown" title="New job" width="760px" align-center append-to-body>
    <ElForm label-position="top" @submit.prevent="make">
      <JobFields v-model="form" :faults="faults" />
      <div class="acts">
        <ElButton @click="shown = false">Cancel</ElButton>
        <ElButton type="primary" native-type="submit" :loading="busy">Make the job</ElButton>
      </div>
    </ElForm>
  </ElDialog>
</template>

<style scoped>
.acts {
  display: flex;
  justify-content: flex-end;
}
</style>
