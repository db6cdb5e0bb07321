<script setup lang="ts">
import type { OpenCase } from '@yuzumix/core'
import { ElButton } from 'element-plus'
import { onMounted, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'

const router = useRouter()
const cases = ref<OpenCase[]>([])
const problem = ref('')
const taking = ref('')

async function load(): Promise<void> {
  problem.value = ''
  try {
    cases.value = await api.trainerCases()
  } catch (error) {
    problem.value = (error as Error).message
  }
}
async function take(id: string): Promise<void> {
  taking.value = id
  try {
    const job = await api.takeCase(id)
    await router.push({ name: 'bench', params: { job: job.id } })
  } catch (error) {
    notifyProblem(error)
  } finally {
    taking.value = ''
  }
}
onMounted(load)
</script>

<template>
  <main class="trainer">
    <div class="head">
      <h1>Trainer</h1>
      <RouterLink to="/">All jobs</RouterLink>
    </div>
    <p>
      Machines on the simulated rig with something hidden. Measure, find out, put it right, and say what it was. Each
      try is a job of its own, scored at the end.
    </p>
    <div v-if="problem" role="alert">
      <p>{{ problem }}</p>
      <ElButton @click="load">Try again</ElButton>
    </div>
    <ul v-else>
      <li v-for="one in cases" :key="one.id" class="card">
        <h2>{{ one.title }}</h2>
        <p class="soft">{{ one.machine }}{{ one.cylinders > 1 ? `, ${one.cylinders} cylinders` : '' }}</p>
        <p>{{ one.brief }}</p>
        <ElButton type="primary" :loading="taking === one.id" :aria-label="`Take: ${one.title}`" @click="take(one.id)"
          >Take this case</ElButton
        >
      </li>
    </ul>
  </main>
</template>

<style scoped>
.trainer {
  padding: 24px 32px;
  overflow-y: auto;
  display: grid;
  gap: 12px;
  align-content: start;
}
.head {
  display: flex;
  gap: 24px;
  align-items: baseline;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
  gap: 12px;
}
.card {
  display: grid;
  gap: 8px;
  justify-items: start;
  grid-template-rows: auto auto 1fr auto;
  padding: 16px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
h2 {
  font-size: 17px;
}
</style>
