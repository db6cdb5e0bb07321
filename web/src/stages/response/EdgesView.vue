<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { exitWords, highestRpm } from '@yuzumix/core'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { counted, grouped, plain, signed } from '@/parts/numbers/format'
import { pinSpans } from '@/parts/pins/pinSpans'
import EdgesChart from './EdgesChart.vue'
import ResponseBar from './ResponseBar.vue'
import type { ResponseState } from './useResponse'

/** Where the closed loop lets go, where fuel is cut and comes back, and what the engine holds back. */
const props = defineProps<{ state: ResponseState }>()
const open = useJob()
const router = useRouter()
const handling = useHandling()
const { response, earlier, problem, runs } = props.state
/** The exit at about the same stop in the set it is held against. */
const exitBefore = (load: number) =>
  earlier.value?.exits.find((one) => Math.abs(one.load - load) < Math.max(2, 0.2 * load))
const top = computed(() => Math.max(6000, highestRpm(runs.value)))
const spans = computed(() => pinSpans(handling.complaints, top.value))
/** Roll-ons that begin below an exit and run over it. */
const crossing = computed(() => {
  const exits = response.value?.exits ?? []
  return (response.value?.groups ?? []).filter((group) =>
    exits.some((exit) => group.fromLoad <= exit.load + 3 && group.rpm < exit.rpm && exit.rpm - group.rpm < 1500),
  ).length
})
/** Overruns in which fuel was seen to come back. */
const returns = computed(() => (response.value?.overrun ?? []).filter((one) => one.backRpm !== null))
const canTaper = computed(() => (response.value?.exits.length ?? 0) > 0 && open.fuelTables.length > 0)
const toTables = (): void => void router.push({ name: 'response', params: { job: open.job!.id, view: 'tables' } })
</script>

<template>
  <StageSplit label="Loop exit and overrun" drawer-label="What it means" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <ResponseBar
        :state="state"
        :idle="`${counted(response?.exits.length ?? 0, 'loop exit')}, ${counted(returns.length, 'overrun')}`"
      />
    </template>
    <EdgesChart v-if="response" :response="response" :before="earlier" :spans="spans" :top="top" />
    <template #drawer>
      <template v-if="response">
        <h2>Loop exit</h2>
        <p v-if="!response.exits.length" class="soft">
          None was found. Sweep at small throttle stops through the speed where the loop lets go.
        </p>
        <article v-for="one in response.exits" :key="one.load">
          <strong
            >{{ plain(one.load, 0) }} %: {{ grouped(Math.round(one.rpm)) }} ± {{ Math.round(one.rpmError) }} rpm</strong
          >
          <p>{{ exitWords(one) }}</p>
          <p v-if="earlier" class="soft figures">
            {{
              exitBefore(one.load)
                ? `Before: ${signed(exitBefore(one.load)!.stepPct, 1)} ± ${plain(exitBefore(one.load)!.stepError, 1)} % at ${grouped(Math.round(exitBefore(one.load)!.rpm))} rpm; now ${signed(one.stepPct, 1)} ± ${plain(one.stepError, 1)} %.`
                : 'Before: none found there.'
            }}
          </p>
        </article>
        <p v-if="crossing">{{ counted(crossing, 'kind') }} of roll-on cross an exit: see them under "Roll-ons".</p>
        <ElButton v-if="canTaper" type="primary" size="small" @click="toTables">Taper in the fuel table</ElButton>
        <h2>Overrun</h2>
        <p v-if="!returns.length" class="soft">
          {{ response.overrun.length }} with fuel cut, none in which it was seen to come back: open the throttle again
          on the overrun.
        </p>
        <table v-else class="listed figures">
          <thead>
            <tr>
              <th>Cut at</th>
              <th>Back at</th>
              <th>90 % of torque</th>
              <th>Jerk</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in returns" :key="`${one.run} ${one.atS}`">
              <td>{{ grouped(Math.round(one.cutRpm)) }}</td>
              <td>{{ grouped(Math.round(one.backRpm!)) }}</td>
              <td>{{ one.delayS === null ? '–' : `${plain(one.delayS, 2)} s` }}</td>
              <td>{{ one.jerk === null ? '–' : `${plain(one.jerk, 0)} N·m/s` }}</td>
            </tr>
          </tbody>
        </table>
        <p>
          Leaving 10 to 20 % of the fuel on the overrun keeps the port wet: torque comes back sooner and with less of a
          jerk, and the engine brakes less.
        </p>
        <p class="caution">
          It burns in the exhaust: heat at valves, silencer and whatever is near, noise, and unburnt fuel. Where
          emissions or noise are regulated it may not be allowed on the road: the local rules decide.
        </p>
      </template>
    </template>
  </StageSplit>
</template>

<style scoped>
h2 {
  font-size: 15px;
  margin: 12px 0 4px;
}
article {
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
article p {
  margin: 4px 0;
}
.caution {
  padding: 8px 10px;
  border-left: 4px solid var(--alarm);
  background: var(--paper);
}
</style>
