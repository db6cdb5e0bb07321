<script setup lang="ts">
import { ElButton, ElCheckbox } from 'element-plus'
import { computed } from 'vue'
import { advanceOf, isLeftOut, stopName, type RunInfo, type SparkSetting } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { grouped, plain } from '@/parts/numbers/format'
import { useJob } from '@/job/openJob'
import type { Spark } from './useSpark'

/** What each run was made at, where no channel tells it: an ignition plate turned by hand. */
const props = defineProps<{ spark: Spark }>()
const open = useJob()
const { settings, choose } = props.spark
const runs = computed(() =>
  open.runs.filter(
    (run) => run.set === open.set?.id && !isLeftOut(run) && (run.kind === 'sweep' || run.kind === 'hold'),
  ),
)
async function say(run: RunInfo, setting: SparkSetting | null): Promise<void> {
  try {
    await api.changeRun(open.job!.id, run.id, { setting })
    await open.reloadRuns()
  } catch (error) {
    notifyProblem(error)
    await open.reloadRuns().catch(notifyProblem)
  }
}
const where = ({ facts }: RunInfo): string =>
  facts ? `${stopName(facts.stop)}, ${grouped(facts.fromRpm)} to ${grouped(facts.toRpm)}` : ''
</script>

<template>
  <div class="panel">
    <p class="soft small">
      Degrees before top dead centre at the mark, one value a run. Runs with a channel of the advance need none.
    </p>
    <label class="now"
      >Setting in use now, °
      <NumberInput
        :model-value="settings.present ?? undefined"
        placeholder="the first run"
        :min="-10"
        :max="70"
        :step="1"
        size="small"
        name="Setting in use now in degrees"
        @change="choose({ present: typeof $event === 'number' ? $event : null })"
    /></label>
    <p v-if="runs.length === 0" class="soft">This set has no sweeps and no holds yet.</p>
    <ul>
      <li v-for="run in runs" :key="run.id">
        <span class="name" :title="run.name">{{ run.name }}</span>
        <span class="soft small figures">{{ where(run) }}</span>
        <div class="set">
          <NumberInput
            :key="`${run.id} ${run.setting?.advance}`"
            :model-value="run.setting?.advance ?? undefined"
            :placeholder="advanceOf(run) === null ? '–' : plain(advanceOf(run)!, 1)"
            :min="-90"
            :max="90"
            :step="1"
            size="small"
            :name="`Advance of ${run.name} in degrees`"
            @change="typeof $event === 'number' && say(run, { advance: $event, knock: run.setting?.knock ?? false })"
          />
          <ElCheckbox
            :model-value="run.setting?.knock ?? false"
            :disabled="run.setting === null"
            size="small"
            :aria-label="`Knock was heard in ${run.name}`"
            @change="say(run, { advance: run.setting!.advance, knock: Boolean($event) })"
            >knock heard</ElCheckbox
          >
          <ElButton
            v-if="run.setting"
            size="small"
            text
            :aria-label="`Unsay the advance of ${run.name}`"
            @click="say(run, null)"
            >unsay</ElButton
          >
        </div>
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
li {
  display: grid;
  gap: 2px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.now {
  display: grid;
  grid-template-columns: 1fr 130px;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
.now :deep(.number-input) {
  width: 130px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.set {
  display: flex;
  gap: 12px;
  align-items: center;
}
.set :deep(.number-input) {
  width: 104px;
}
</style>
