<script setup lang="ts">
import { ElButton, ElCheckbox, ElSwitch } from 'element-plus'
import { computed } from 'vue'
import { isLeftOut, misfireWords, uncalibratedIn, type Field, type RunInfo } from '@yuzumix/core'
import SetAsideList from '@/parts/evidence/SetAsideList.vue'
import { grouped, signed } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import DropLogs from '@/parts/intake/DropLogs.vue'

const props = defineProps<{ field: Field | null; runs: RunInfo[] }>()
const highlighted = defineModel<string>('highlighted', { required: true })
const open = useJob()

const left = computed(() => new Set(open.job!.mixture.runsLeftOut))
const bearing = computed(() => new Map(props.field?.runs.map((run) => [run.id, run])))
const total = computed(
  () => (run: string) => Object.values(bearing.value.get(run)?.setAside ?? {}).reduce((sum, count) => sum + count, 0),
)

function setUsed(id: string, used: boolean): void {
  const runsLeftOut = open.job!.mixture.runsLeftOut.filter((one) => one !== id)
  open.chooseMixture({ runsLeftOut: used ? runsLeftOut : [...runsLeftOut, id] })
}
</script>

<template>
  <div class="panel">
    <div class="head">
      <DropLogs compact />
      <ElButton size="small" @click="open.chooseMixture({ runsLeftOut: [] })">All</ElButton>
      <ElButton size="small" @click="open.chooseMixture({ runsLeftOut: runs.map((run) => run.id) })">None</ElButton>
      <label class="odd">
        <ElSwitch
          :model-value="open.job!.mixture.leaveOutOdd"
          size="small"
          aria-label="Leave out odd bands"
          @update:model-value="open.chooseMixture({ leaveOutOdd: Boolean($event) })"
        />
        Leave out odd bands
      </label>
    </div>
    <p v-for="zone in field?.misfires ?? []" :key="`${zone.stop} ${zone.fromRpm}`" class="misfire" role="note">
      {{ misfireWords(zone, open.cylinderName) }}
    </p>
    <ul>
      <li v-for="run in runs" :key="run.id" :class="{ front: highlighted === run.id }">
        <div class="run">
          <ElCheckbox
            :model-value="!left.has(run.id) && !isLeftOut(run)"
            :disabled="isLeftOut(run)"
            :aria-label="`Use ${run.name}`"
            @update:model-value="setUsed(run.id, Boolean($event))"
          />
          <button
            type="button"
            class="name"
            :aria-pressed="highlighted === run.id"
            @click="highlighted = highlighted === run.id ? '' : run.id"
          >
            {{ run.name }}
          </button>
          <span v-if="bearing.get(run.id)" class="figures soft"
            >{{ grouped(bearing.get(run.id)!.used) }} used, {{ grouped(total(run.id)) }} aside</span
          >
          <span v-else class="soft">{{ isLeftOut(run) ? `left out: ${run.leftOut!.reason}` : 'left out' }}</span>
        </div>
        <p v-if="uncalibratedIn(run).length" class="odd-note">Uncalibrated: {{ uncalibratedIn(run).join(' and ') }}.</p>
        <p v-if="bearing.get(run.id)?.odd" class="odd-note">
          Odd run: reads {{ signed(bearing.get(run.id)!.odd!.departurePct) }} % against its repeats from
          {{ grouped(bearing.get(run.id)!.odd!.fromRpm) }} to {{ grouped(bearing.get(run.id)!.odd!.toRpm) }} rpm.
        </p>
        <SetAsideList
          v-if="highlighted === run.id && bearing.get(run.id)"
          :counts="bearing.get(run.id)!.setAside"
          none="Nothing of this run was set aside."
          class="aside"
        />
      </li>
    </ul>
  </div>
</template>

<style scoped>
.misfire {
  padding: 8px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
.panel {
  display: grid;
  gap: 12px;
}
.head {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
.head :deep(.el-button + .el-button) {
  margin-left: 0;
}
.odd {
  display: flex;
  gap: 6px;
  align-items: center;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  /* Hundreds of runs: the browser lays out only those in view. */
  content-visibility: auto;
  contain-intrinsic-size: auto 34px;
  border-bottom: 1px solid var(--line);
  padding: 2px 4px;
}
.front {
  background: var(--yuzu-soft);
}
.run {
  display: grid;
  grid-template-columns: 24px 1fr auto;
  align-items: center;
  font-size: 13px;
}
.name {
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  padding: 4px;
  min-height: 28px;
  cursor: pointer;
  overflow: hidden;
  text-overflow: ellipsis;
}
.odd-note {
  color: var(--lean);
  padding-left: 28px;
  font-size: 13px;
}
.aside {
  padding: 0 8px 8px 28px;
  font-size: 13px;
}
</style>
