<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { lossAt, stopName, TARGET_PRESETS, valueAt } from '@yuzumix/core'
import { notifyDone } from '@/api/notify'
import FitChart from '@/parts/chart/FitChart.vue'
import { counted, grouped, signed } from '@/parts/numbers/format'
import SetSelect from '@/parts/choose/SetSelect.vue'
import WorkStatus from '@/parts/frame/WorkStatus.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useDisplay } from '@/stores/display'
import { useJob } from '@/job/openJob'
import type { Spark } from './useSpark'

/** Torque over mixture at a held point: what a safer mixture costs, so that the margin is a decision and not a guess. */
const props = defineProps<{ spark: Spark }>()
const open = useJob()
const display = useDisplay()
const { mixtures, problem, busy, slow, cancel } = props.spark
const chosen = ref(0)
const one = computed(() => mixtures.value[Math.min(chosen.value, mixtures.value.length - 1)] ?? null)

/** % of plate from which a target counts as one for full throttle. */
const FULL_FROM = 80
const target = computed(() => TARGET_PRESETS.find((each) => each.id === open.job!.mixture.target.preset)!)
const fullTargets = computed(() =>
  [...new Map(TARGET_PRESETS.map((each) => [each.full.toFixed(4), each])).values()]
    .map((each) => ({ ...each, loss: one.value && lossAt(one.value.fit, each.full) }))
    .sort((a, b) => a.full - b.full),
)
const marks = computed(() => {
  const { best } = one.value?.fit ?? {}
  return [
    { x: target.value.full, text: 'target now', look: 'present' as const },
    ...(best ? [{ x: best.lambda, text: 'best torque', look: 'advised' as const }] : []),
  ]
})
function aimAt(lambda: number): void {
  const { mixture } = open.job!
  const zone = { fromRpm: 0, toRpm: 30000, fromLoad: FULL_FROM, toLoad: 400, lambda: Math.round(1000 * lambda) / 1000 }
  const others = mixture.target.zones.filter((each) => each.fromLoad !== FULL_FROM || each.toLoad !== 400)
  open.chooseMixture({ target: { ...mixture.target, zones: [...others, zone] } })
  notifyDone(
    `The target is ${display.mixture(lambda)} ${display.mixtureUnit} from ${FULL_FROM} % of throttle up. Undo it under Mixture, Target.`,
  )
}
</script>

<template>
  <StageSplit label="Torque over mixture" drawer-label="What a safer mixture costs" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <SetSelect v-if="open.sets.length > 1" />
      <WorkStatus
        :busy="busy"
        :slow="slow"
        doing="Fitting …"
        :idle="counted(mixtures.length, 'point')"
        @stop="cancel()"
      />
    </template>
    <div v-if="!one" class="empty">
      <h1>Mixture sweep</h1>
      <p>
        Hold full throttle at one speed, step the fuel from rich toward lean, and watch torque: it is flat about its
        best. How much a richer, safer mixture costs is then a figure.
      </p>
      <p>
        At the <RouterLink :to="{ name: 'bench', params: { job: open.job!.id } }">bench</RouterLink> it is a run of the
        kind "mixture step" (Runs, One of your own). A log of such a run with torque, throttle and mixture does as well:
        set its kind under Baseline.
      </p>
    </div>
    <template v-else>
      <div class="points" role="group" aria-label="Points">
        <ElButton
          v-for="(each, k) in mixtures"
          :key="`${each.bin.stop} ${each.bin.rpm}`"
          size="small"
          :type="k === chosen ? 'primary' : 'default'"
          :aria-pressed="k === chosen"
          @click="chosen = k"
          >{{ stopName(each.bin.stop) }}, {{ grouped(each.bin.rpm) }} rpm: {{ each.fit.verdict }}</ElButton
        >
      </div>
      <FitChart
        :title="`Torque, ${display.torqueUnit}, over mixture, ${display.mixtureUnit}; rich on the left`"
        :points="one.bin.points.map(({ lambda, torque, knock }) => ({ x: lambda, y: torque, isAlarm: knock }))"
        :curve="one.fit.curve && ((x) => valueAt(one!.fit.curve!, x))"
        :interval="one.fit.best"
        :marks="marks"
        alarm="knock"
        :margin="0.02"
        :x-text="(value) => display.mixture(value)"
        :y-text="(value) => display.figure('torque', value)"
      />
    </template>
    <template #drawer>
      <div class="panel">
        <template v-if="one">
          <h3>{{ stopName(one.bin.stop) }} at {{ grouped(one.bin.rpm) }} rpm</h3>
          <p>
            <strong>{{ one.fit.note }}</strong>
          </p>
          <dl class="facts figures">
            <template v-if="one.fit.best">
              <dt>best torque</dt>
              <dd>
                {{ display.mixture(one.fit.best.lambda) }} {{ display.mixtureUnit }} ({{
                  display.mixture(one.fit.best.low)
                }}
                to {{ display.mixture(one.fit.best.high) }}, 90 %)
              </dd>
            </template>
            <dt>tried</dt>
            <dd>
              {{ display.mixture(one.fit.range.from) }} to {{ display.mixture(one.fit.range.to) }}
              {{ display.mixtureUnit }}, {{ counted(one.bin.points.length, 'reading') }}
            </dd>
            <template v-if="one.fit.knockFrom !== null">
              <dt>knock</dt>
              <dd>from {{ display.mixture(one.fit.knockFrom) }} {{ display.mixtureUnit }} toward lean</dd>
            </template>
          </dl>
          <table v-if="one.fit.best">
            <thead>
              <tr>
                <th scope="col">Target</th>
                <th scope="col" class="right">Torque, %</th>
                <th scope="col"><span class="unseen">take</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="each in fullTargets" :key="each.id">
                <td :title="each.reason">
                  {{ each.name }}
                  <span v-if="each.full > one.fit.best.high" class="lean">lean of best</span>
                </td>
                <td class="figures right">
                  <template v-if="each.loss"
                    >{{ signed(each.loss.value, 2) }}
                    <p class="soft small">
                      {{ signed(each.loss.low, 2) }} to {{ signed(each.loss.high, 2) }}
                    </p></template
                  >
                  <template v-else>not tried</template>
                </td>
                <td>
                  <ElButton
                    size="small"
                    :disabled="!each.loss"
                    :aria-label="`Aim at ${each.name}`"
                    @click="aimAt(each.full)"
                    >Aim at it</ElButton
                  >
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="one.fit.best" class="soft small">
            Torque against the best, with its 90 % interval: how little a richer mixture costs.
          </p>
        </template>
        <p class="caution">
          The lean side of best torque runs hot and knocks: never stay there at full throttle. Air-cooled, tuned or
          long-held engines want the richer mixture, whatever it costs. Another speed may tell another story: measure
          two or three.
        </p>
      </div>
    </template>
  </StageSplit>
</template>

<style scoped>
.points {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  flex: none;
}
.points :deep(.el-button + .el-button) {
  margin-left: 0;
}
.empty {
  display: grid;
  gap: 12px;
  max-width: 640px;
  padding: 24px;
}
.panel {
  display: grid;
  gap: 10px;
  padding-top: 12px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th,
td {
  padding: 4px 6px;
  border-bottom: 1px solid var(--line);
  text-align: left;
}
th {
  color: var(--soft);
  font-weight: 400;
}
.right {
  text-align: right;
}
.unseen {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
.lean {
  color: var(--lean);
}
</style>
