<script setup lang="ts">
import { ElButton, ElMessage, ElOption, ElSelect } from 'element-plus'
import { h } from 'vue'
import { channelTitle, RUN_KINDS, type RunInfo, type RunKind } from '@yuzumix/core'
import { api } from '@/api/client'
import { sayProblem } from '@/api/say'
import { duration, grouped, plain } from '@/parts/numbers/format'
import { useJob } from '@/stores/job'
import DropLogs from './DropLogs.vue'

const open = useJob()

const span = (run: RunInfo): string => {
  const rpm = run.channels.find((one) => one.channel === 'rpm')
  return rpm ? `${grouped(rpm.min)} to ${grouped(rpm.max)}` : ''
}
const stop = (run: RunInfo): string => {
  const throttle = run.channels.find((one) => one.channel === 'throttle')
  return throttle ? `${plain(throttle.max, 0)} %` : 'no throttle'
}

async function change(run: RunInfo, what: { kind?: RunKind; removed?: boolean }): Promise<void> {
  try {
    await api.changeRun(open.job!.id, run.id, what)
    await open.reloadRuns()
    if (what.removed) {
      const message = ElMessage({
        message: h('span', [
          `"${run.name}" is taken out. `,
          h(
            ElButton,
            { size: 'small', onClick: () => (message.close(), void change(run, { removed: false })) },
            () => 'Undo',
          ),
        ]),
        duration: 8000,
      })
    }
  } catch (error) {
    sayProblem(error)
  }
}
</script>

<template>
  <div class="baseline">
    <div class="head">
      <h1>Runs</h1>
      <DropLogs v-if="open.runs.length" compact />
      <span class="soft"
        >Overlay and comparison of runs are not built yet; the list and Mixture work with what is here.</span
      >
    </div>
    <DropLogs v-if="open.runs.length === 0" />
    <div v-else class="scroll" tabindex="0" aria-label="Runs">
      <table>
        <thead>
          <tr>
            <th scope="col">Run</th>
            <th scope="col">Kind</th>
            <th scope="col" class="right">Highest throttle</th>
            <th scope="col" class="right">rpm</th>
            <th scope="col" class="right">Samples</th>
            <th scope="col" class="right">Length</th>
            <th scope="col">Channels</th>
            <th scope="col"><span class="sr-only">Acts</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="run in open.runs" :key="run.id">
            <td>
              {{ run.name }}
              <p v-for="warning in run.warnings" :key="warning" class="warning">{{ warning }}</p>
            </td>
            <td>
              <ElSelect
                :model-value="run.kind"
                size="small"
                :aria-label="`Kind of ${run.name}`"
                @update:model-value="change(run, { kind: $event })"
              >
                <ElOption v-for="kind in RUN_KINDS" :key="kind" :value="kind" :label="kind" />
              </ElSelect>
            </td>
            <td class="right figures">{{ stop(run) }}</td>
            <td class="right figures">{{ span(run) }}</td>
            <td class="right figures">{{ grouped(run.samples) }}</td>
            <td class="right figures">{{ duration(run.duration) }}</td>
            <td class="soft channels">{{ run.channels.map((one) => channelTitle(one.channel)).join(', ') }}</td>
            <td>
              <ElButton size="small" :aria-label="`Take out ${run.name}`" @click="change(run, { removed: true })"
                >Take out</ElButton
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.baseline {
  height: 100%;
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 16px 24px;
}
.head {
  display: flex;
  gap: 16px;
  align-items: center;
}
.scroll {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--panel);
  text-align: left;
  color: var(--soft);
}
th,
td {
  padding: 6px 12px;
  border-bottom: 1px solid var(--line);
}
td:nth-child(2) {
  width: 132px;
}
.right {
  text-align: right;
  white-space: nowrap;
}
.channels {
  max-width: 240px;
  font-size: 13px;
}
.warning {
  color: var(--el-color-warning);
  font-size: 13px;
}
</style>
