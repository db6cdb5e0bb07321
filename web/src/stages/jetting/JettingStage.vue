<script setup lang="ts">
import { ElRadioButton, ElRadioGroup, ElTabPane, ElTabs } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import { fittedText, rodsRiseAt, type Proposal } from '@yuzumix/core'
import StageSplit from '@/parts/frame/StageSplit.vue'
import AirPanel from './AirPanel.vue'
import BoxPanel from './BoxPanel.vue'
import ChecksPanel from './ChecksPanel.vue'
import FittingsPanel from './FittingsPanel.vue'
import IdlePanel from './IdlePanel.vue'
import OpeningChart from './OpeningChart.vue'
import PartsPanel from './PartsPanel.vue'
import ReadingsPanel from './ReadingsPanel.vue'
import { useJetting } from './useJetting'

const jetting = useJetting()
const {
  settings,
  isSet,
  chosen,
  carburettor,
  fittings,
  present,
  fitted,
  targets,
  readings,
  model,
  trust,
  problem,
  axis,
} = jetting
const tab = ref(isSet.value ? 'parts' : 'box')
const shown = shallowRef<Proposal | null>(null)
watch([present, carburettor], () => (shown.value = null))
const rows = computed(() => readings.value.get(present.value?.id ?? '')?.[carburettor.value] ?? [])
const before = computed(() => {
  const last = fittings.value.slice(0, -1).findLast((set) => readings.value.get(set.id)?.[carburettor.value]?.length)
  return last ? readings.value.get(last.id)![carburettor.value]! : []
})
const rodsRise = computed(() =>
  settings.value.body.kind === 'metering rods' && fitted.value?.spring !== undefined
    ? rodsRiseAt(fitted.value.spring)
    : null,
)
const predicted = computed(() => shown.value?.predicted ?? present.value?.fitting.predicted?.[carburettor.value] ?? [])
</script>

<template>
  <StageSplit label="Carburettor" drawer-label="Parts and readings" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <ElRadioGroup v-if="settings.carburettors.length > 1" v-model="chosen" size="small" aria-label="Carburettor">
        <ElRadioButton v-for="(one, k) in settings.carburettors" :key="one.name" :value="k">{{
          one.name
        }}</ElRadioButton>
      </ElRadioGroup>
      <span class="soft state">{{ fitted ? fittedText(fitted, null, settings.body.kind) : 'nothing fitted yet' }}</span>
      <span v-if="trust.word !== 'full'" class="mark">trust {{ trust.word }}</span>
    </template>
    <OpeningChart
      :targets="targets"
      :rows="rows"
      :before="before"
      :model="model"
      :predicted="predicted"
      :rods-rise="rodsRise"
      :axis-name="axis === 'throttle' ? 'throttle' : 'manifold pressure'"
    />
    <p class="legend soft">
      ● read now, with its 90 % interval · ○ read before · line: the model and its interval · dashed yellow: predicted ·
      dashed: target
    </p>
    <template #drawer>
      <ElTabs v-model="tab" class="tabs">
        <ElTabPane label="Parts" name="parts"><PartsPanel v-model:shown="shown" :jetting="jetting" /></ElTabPane>
        <ElTabPane label="Readings" name="readings"><ReadingsPanel :jetting="jetting" /></ElTabPane>
        <ElTabPane label="Box" name="box"><BoxPanel :jetting="jetting" /></ElTabPane>
        <ElTabPane label="Checks" name="checks"><ChecksPanel :jetting="jetting" /></ElTabPane>
        <ElTabPane label="Idle" name="idle"><IdlePanel :jetting="jetting" /></ElTabPane>
        <ElTabPane label="Air" name="air" lazy><AirPanel :jetting="jetting" /></ElTabPane>
        <ElTabPane label="Log" name="log"><FittingsPanel :jetting="jetting" /></ElTabPane>
      </ElTabs>
    </template>
  </StageSplit>
</template>

<style scoped>
.state {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.mark {
  padding: 1px 6px;
  background: var(--yuzu);
  color: #22281f;
  border-radius: 4px;
}
.legend {
  flex: none;
  font-size: 12px;
}
/* Seven stand side by side. */
.tabs :deep(.el-tabs__item) {
  padding: 0 8px;
}
@media (max-width: 700px) {
  .state {
    flex: 1 1 100%;
  }
}
</style>
