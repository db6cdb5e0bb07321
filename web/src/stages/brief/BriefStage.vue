<script setup lang="ts">
import { ElRadioButton, ElRadioGroup, ElTabPane, ElTabs } from 'element-plus'
import { ref } from 'vue'
import LogBook from '@/parts/logbook/LogBook.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import ChangedPanel from './ChangedPanel.vue'
import ComplaintsPanel from './ComplaintsPanel.vue'
import LimitsPanel from './LimitsPanel.vue'
import MachineForm from './MachineForm.vue'
import ShelfPanel from './ShelfPanel.vue'
import VerdictPanel from './VerdictPanel.vue'

const VIEWS = ['Machine', 'Complaints', 'What was changed', 'Limits and fuel'] as const
const view = ref<(typeof VIEWS)[number]>('Machine')
const tab = ref('verdict')
</script>

<template>
  <StageSplit label="Brief" drawer-label="Verdict, shelf and logbook" problem="">
    <template #bar>
      <h1>Brief</h1>
      <ElRadioGroup v-model="view" size="small" aria-label="View">
        <ElRadioButton v-for="one in VIEWS" :key="one" :value="one">{{ one }}</ElRadioButton>
      </ElRadioGroup>
    </template>
    <div class="scroll" tabindex="0" role="region" :aria-label="view">
      <MachineForm v-if="view === 'Machine'" />
      <ComplaintsPanel v-else-if="view === 'Complaints'" />
      <ChangedPanel v-else-if="view === 'What was changed'" />
      <LimitsPanel v-else />
      <p class="caution">
        A running engine indoors needs exhaust extraction and a carbon monoxide alarm. Removing or disabling emission or
        noise equipment is illegal for road use in many places: the local rules decide. Aircraft and other licensed
        work: read and record here, leave changes to a licensed mechanic.
      </p>
    </div>
    <template #drawer>
      <ElTabs v-model="tab">
        <ElTabPane label="Verdict" name="verdict"><VerdictPanel /></ElTabPane>
        <ElTabPane label="Shelf" name="shelf" lazy><ShelfPanel /></ElTabPane>
        <ElTabPane label="Logbook" name="logbook" lazy><LogBook /></ElTabPane>
      </ElTabs>
    </template>
  </StageSplit>
</template>

<style scoped>
.scroll {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  padding: 4px 12px 16px 4px;
  display: flex;
  flex-direction: column;
  gap: 16px;
}
</style>
