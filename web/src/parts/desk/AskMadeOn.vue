<script setup lang="ts">
import { ElButton } from 'element-plus'
import dayjs from 'dayjs'
import { computed, ref } from 'vue'
import { foreignWarning, type RunInfo, type Untold } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'
import { counted } from '@/parts/numbers/format'

/** One question for all runs that came before a table: which state of it was in the machine? */
const props = defineProps<{ untold: Untold }>()
const open = useJob()
const working = ref(0)
const table = computed(() => open.tables.find((one) => one.id === props.untold.table)!)
const states = computed(() => table.value.revisions.filter((one) => props.untold.revisions.includes(one.n)))
const runs = computed(() => open.runs.filter((run: RunInfo) => props.untold.runs.includes(run.id)))

const isForeign = computed(() => runs.value.some((run) => run.warnings.includes(foreignWarning(table.value.name))))

async function answer(n: number): Promise<void> {
  working.value = n
  try {
    await api.sayMadeOn(open.job!.id, { table: props.untold.table, revision: n })
    await open.reloadRuns()
    notifyDone(`${counted(runs.value.length, 'run')} count as made on revision ${n}.`)
  } catch (error) {
    notifyProblem(error)
  } finally {
    working.value = 0
  }
}
</script>

<template>
  <section class="ask" role="group" aria-label="Which state were the runs made on?">
    <h2>Which state of "{{ table.name }}" were the runs made on?</h2>
    <p>
      {{ counted(runs.length, 'run') }}
      {{
        isForeign
          ? 'were made while the controller held what is no revision of it. Take those contents in at the bench first (Controller), then say which.'
          : 'came into the job before the table did, and several states of it were saved since.'
      }}
      A change is right only against what was in the machine while they were made; nothing is suggested until that is
      known.
    </p>
    <ul>
      <li v-for="one in states" :key="one.n">
        <ElButton
          type="primary"
          :plain="one.n !== states.at(-1)!.n"
          :loading="working === one.n"
          :disabled="working !== 0"
          @click="answer(one.n)"
          >Revision {{ one.n }}</ElButton
        >
        <span>{{ one.reason }} <span class="soft figures">{{ dayjs(one.createdAt).format('D MMM HH:mm') }}</span></span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.ask {
  display: grid;
  gap: 10px;
  margin: 12px 16px;
  padding: 12px 16px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
ul {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>
