<script setup lang="ts">
import { ElTabPane, ElTabs } from 'element-plus'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { highestRpm } from '@yuzumix/core'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import { counted, plain } from '@/parts/numbers/format'
import { pinSpans } from '@/parts/pins/pinSpans'
import StageSplit from '@/parts/frame/StageSplit.vue'
import FeelPanel from './FeelPanel.vue'
import { adviceText, estimateText, stepText } from './groupWords'
import PlanPanel from './PlanPanel.vue'
import ResponseBar from './ResponseBar.vue'
import RollOnChart from './RollOnChart.vue'
import RollOnMap from './RollOnMap.vue'
import SnatchPanel from './SnatchPanel.vue'
import type { ResponseState } from './useResponse'

/** Every opening of the throttle in the runs, and what mixture and torque did after it. */
const props = defineProps<{ state: ResponseState }>()
const open = useJob()
const handling = useHandling()
const { response, earlier, problem, runs, working } = props.state
const chosen = ref(0)
const tab = ref('why')
const groups = computed(() => response.value?.groups ?? [])
const group = computed(() => groups.value[Math.min(chosen.value, groups.value.length - 1)] ?? null)
/** The same kind of opening in the set it is held against. */
const was = computed(() =>
  group.value
    ? earlier.value?.groups.find(
        (one) =>
          Math.abs(one.rpm / group.value!.rpm - 1) < 0.1 &&
          Math.abs(one.fromLoad - group.value!.fromLoad) < 6 &&
          Math.abs(one.toLoad - group.value!.toLoad) < 12,
      )
    : undefined,
)
const top = computed(() => Math.max(6000, highestRpm(runs.value)))
const spans = computed(() => pinSpans(handling.complaints, top.value))
const count = computed(() => groups.value.reduce((sum, one) => sum + one.n, 0))
const runName = (id: string): string => open.runs.find((run) => run.id === id)?.name ?? 'run'
const rows = computed(() =>
  (group.value?.members ?? []).map(({ rollOn }) => ({
    key: `${rollOn.run} ${rollOn.atS}`,
    where: `${runName(rollOn.run)}, at ${plain(rollOn.atS, 1)} s`,
    peaks: `${rollOn.bounded ? 'at least ' : ''}${plain(rollOn.leanPct, 1)} / ${plain(rollOn.richPct, 1)} %`,
    settled: rollOn.settleBetweenS
      ? `${plain(rollOn.settleS!, 2)} (${rollOn.settleBetweenS.map((one) => plain(one, 2)).join(' to ')})`
      : '–',
    torque: rollOn.torqueDelayS === null ? '–' : `${plain(rollOn.torqueDelayS, 2)} s`,
    hesitation: rollOn.hesitation
      ? rollOn.hesitation.kind === 'dip'
        ? `dips by ${plain(rollOn.hesitation.depthPct, 0)} % at ${plain(rollOn.hesitation.atS, 2)} s`
        : `stands still at ${plain(rollOn.hesitation.atS, 2)} s for ${plain(rollOn.hesitation.lastsS, 2)} s`
      : '',
  })),
)
const isEmpty = computed(() => response.value !== null && groups.value.length === 0)
</script>

<template>
  <StageSplit label="Roll-ons" drawer-label="Why, plan and feel" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <ResponseBar :state="state" :idle="`${counted(count, 'roll-on')} of ${counted(groups.length, 'kind')}`" />
    </template>
    <div v-if="isEmpty || (runs.length === 0 && !working.busy.value)" class="empty">
      <h1>Response</h1>
      <p>
        How the machine answers the hand: each quick opening of the throttle is found by itself, in road logs, holds and
        scripts. There is none in {{ open.set ? `"${open.set.name}"` : 'this job' }} yet.
      </p>
      <p v-for="note in response?.notes ?? []" :key="note" class="soft">{{ note }}</p>
      <p>
        The <RouterLink :to="{ name: 'bench', params: { job: open.job!.id } }">bench</RouterLink> makes roll-ons under
        "Own run". Steady first: the fuel table should be flat before.
      </p>
    </div>
    <template v-else-if="group">
      <RollOnMap v-model="chosen" :groups="groups" :exits="response!.exits" :spans="spans" :top="top" />
      <RollOnChart :group="group" :lag="response!.sensor.lag" />
    </template>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Why" name="why">
          <template v-if="group">
            <h2>{{ stepText(group) }}</h2>
            <p class="advice">{{ adviceText(group.advice) }}</p>
            <p v-if="was" class="soft">
              Before: {{ estimateText(was.leanPct) }} % leaner, {{ estimateText(was.richPct) }} % richer.
            </p>
            <dl>
              <dt>Lean peak</dt>
              <dd>{{ estimateText(group.leanPct) }} %</dd>
              <dt>Rich peak</dt>
              <dd>{{ estimateText(group.richPct) }} %</dd>
              <dt>Settled within 2 % after</dt>
              <dd>{{ estimateText(group.settleS, 2) }} s</dd>
              <dt>Repeats</dt>
              <dd>{{ group.n }}{{ group.bounded ? `, ${group.bounded} of them only a bound` : '' }}</dd>
            </dl>
            <table class="listed">
              <thead>
                <tr>
                  <th>Opening</th>
                  <th>lean / rich</th>
                  <th>settled, s</th>
                  <th>90 % of torque</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="row in rows" :key="row.key">
                  <td>
                    {{ row.where
                    }}<span v-if="row.hesitation" class="hesitates"><br />torque {{ row.hesitation }}</span>
                  </td>
                  <td class="figures">{{ row.peaks }}</td>
                  <td class="figures">{{ row.settled }}</td>
                  <td class="figures">{{ row.torque }}</td>
                </tr>
              </tbody>
            </table>
            <p class="soft small">
              Lag {{ Math.round(1000 * response!.sensor.lag) }} ms ± {{ Math.round(1645 * response!.sensor.error) }},
              from {{ response!.sensor.from }}; gas travel and sensor are taken out, the rest is the wall film and what
              the controller adds. Intervals are 90 %.
            </p>
          </template>
          <p v-if="response" class="soft small">{{ response.gears.text }}</p>
          <p v-for="note in response?.notes ?? []" :key="note" class="soft small">{{ note }}</p>
        </ElTabPane>
        <ElTabPane label="Plan" name="plan"><PlanPanel v-if="response" :plan="response.plan" /></ElTabPane>
        <ElTabPane label="Snatch" name="snatch"
          ><SnatchPanel v-if="response" :snatch="response.snatch" :before="earlier?.snatch ?? null"
        /></ElTabPane>
        <ElTabPane :label="`Feel (${handling.complaints.length})`" name="feel"><FeelPanel /></ElTabPane>
      </ElTabs>
    </template>
  </StageSplit>
</template>

<style scoped>
.empty {
  display: grid;
  gap: 12px;
  max-width: 640px;
  padding: 24px;
}
h2 {
  font-size: 15px;
  margin: 8px 0 4px;
}
.advice {
  padding: 8px 10px;
  border-left: 4px solid var(--yuzu);
  background: var(--yuzu-soft);
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  margin: 8px 0;
}
dd {
  margin: 0;
  font-family: var(--figures);
  text-align: right;
}
.hesitates {
  color: var(--lean);
}
.small {
  margin-top: 8px;
  font-size: 12px;
}
</style>
