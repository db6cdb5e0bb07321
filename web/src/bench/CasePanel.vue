<script setup lang="ts">
import { sentence, type BodyOf, type TrainingState } from '@yuzumix/core'
import { ElButton, ElRadio, ElRadioGroup } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { api, apiAs } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { counted, plain } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import type { Bench } from './useBench'

/** A case of the trainer: its brief, what can be done with tools, the answer, and after it the score. */
const props = defineProps<{ bench: Bench; training: TrainingState }>()
const open = useJob()
const now = shallowRef(props.training)
const diagnosis = ref<BodyOf<'finishCase'>['diagnosis'] | ''>('')
const working = ref('')
const result = computed(() => now.value.result)

async function load(work: () => Promise<TrainingState | null>, what: string): Promise<void> {
  working.value = what
  try {
    now.value = (await work()) ?? now.value
  } catch (error) {
    notifyProblem(error)
  } finally {
    working.value = ''
  }
}
const id = open.job!.id
const finish = async (): Promise<TrainingState | null> =>
  diagnosis.value ? api.finishCase(id, { diagnosis: diagnosis.value }) : null
onMounted(() => load(() => api.training(id), ''))
watch(
  () => props.bench.news.value?.runs,
  () => load(() => api.training(id), ''),
)
const NAMES: Record<string, string> = {
  mixture: 'Mixture',
  diagnosis: 'Diagnosis',
  looked: 'Looked at',
  runs: 'Runs',
  time: 'Time',
  safety: 'Safety',
}
</script>

<template>
  <div class="panel">
    <h3>{{ now.case.title }}</h3>
    <p>{{ now.case.brief }}</p>
    <p class="soft figures">
      {{ counted(now.runs, 'run') }}, {{ Math.round(now.minutes) }} min at the rig,
      {{ counted(now.unsafe, 'unsafe step') }} so far
    </p>
    <template v-if="result">
      <h3>{{ result.points }} of 100</h3>
      <p><strong>{{ result.found ? 'Found.' : 'Not found.' }}</strong> {{ sentence(result.truth) }}</p>
      <dl>
        <template v-for="line in result.lines" :key="line.what">
          <dt>{{ NAMES[line.what] }}</dt>
          <dd class="figures">{{ plain(line.points, 0) }} / {{ line.most }}</dd>
          <dd>{{ line.text }}</dd>
        </template>
      </dl>
      <template v-if="result.unsafe.length">
        <h3>Unsafe steps</h3>
        <ul>
          <li v-for="step in result.unsafe" :key="step.time">{{ step.what }}</li>
        </ul>
      </template>
      <h3>What an expert would have looked at</h3>
      <ul>
        <li v-for="line in result.expert" :key="line">{{ line }}</li>
      </ul>
      <RouterLink :to="{ name: 'trainer' }">All cases</RouterLink>
    </template>
    <template v-else>
      <h3>With tools</h3>
      <ul class="acts">
        <li v-for="act in now.acts" :key="act.id">
          <span>{{ act.name }}</span>
          <span class="figures soft">{{ act.minutes }} min</span>
          <ElButton
            size="small"
            :disabled="act.done || working !== ''"
            :loading="working === act.id"
            :aria-label="`Do: ${act.name}`"
            @click="load(() => apiAs(bench.who()).workshopAct(id, { act: act.id }), act.id)"
            >{{ act.done ? 'Done' : 'Do it' }}</ElButton
          >
        </li>
      </ul>
      <h3>What was wrong?</h3>
      <ElRadioGroup v-model="diagnosis" class="answers" aria-label="What was wrong">
        <ElRadio v-for="one in now.diagnoses" :key="one.id" :value="one.id">{{ one.name }}</ElRadio>
      </ElRadioGroup>
      <ElButton
        type="primary"
        :disabled="!diagnosis || working !== ''"
        :loading="working === 'finish'"
        @click="load(finish, 'finish')"
        >Finish the case</ElButton
      >
      <p class="soft small">
        Scored by how flat the machine is in truth, the answer, what was looked at, runs, minutes and unsafe steps.
        Finishing cannot be undone; the case can be taken anew.
      </p>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
  justify-items: start;
}
ul {
  margin: 0;
  padding-left: 18px;
}
.acts {
  list-style: none;
  padding: 0;
  width: 100%;
}
.acts li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
  border-bottom: 1px solid var(--line);
  font-size: 13px;
}
.answers {
  display: grid;
  justify-items: start;
}
.answers :deep(.el-radio) {
  height: auto;
  padding: 4px 0;
  white-space: normal;
  margin-right: 0;
}
dl {
  display: grid;
  grid-template-columns: auto auto 1fr;
  gap: 4px 12px;
  margin: 0;
  font-size: 13px;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0;
}
</style>
