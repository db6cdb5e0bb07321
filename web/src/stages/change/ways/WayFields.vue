<script setup lang="ts">
import { computed } from 'vue'
import { LOAD_UNITS, sameGrid, TARGET_PRESETS } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import NumberList from './NumberList.vue'
import type { Ways } from './useWays'
import { AS_IT_IS, NO_TABLE } from './wayChoices'

/** What the opened way is asked with. */
const props = defineProps<{ ways: Ways }>()
const { chosen, choices, tables, wanted } = props.ways
const one = computed(() => choices.value!)
const unit = computed(() => LOAD_UNITS[wanted.value!.loadAxis])
const named = computed(() => tables.value.filter((info) => info.revisions.at(-1)!.way?.asked.kind !== chosen.value))
const none = { value: NO_TABLE, label: 'none' }
const asChoice = (info: { id: string; name: string }) => ({ value: info.id, label: info.name })
/** Tables on the breakpoints of the change: those that can stand beside a way, or take it whole. */
const beside = computed(() => [
  none,
  ...named.value.filter((info) => !info.inForce && sameGrid(info.table, wanted.value!)).map(asChoice),
])
const fillings = computed(() => [
  { value: NO_TABLE, label: 'the one of this job' },
  ...named.value.filter((info) => info.table.kind === 'filling').map(asChoice),
])
const intents = [
  { value: AS_IT_IS, label: 'stays' },
  ...TARGET_PRESETS.map(({ id, name }) => ({ value: id, label: name })),
]
const pulses = computed(() => [none, ...named.value.filter((info) => info.table.kind === 'fuel base').map(asChoice)])
</script>

<template>
  <div class="fields">
    <template v-if="chosen === 'table'">
      <label>Table <ChoiceSelect v-model="one.table.table" name="Table that takes it" :choices="beside" /></label>
    </template>
    <template v-else-if="chosen === 'coarse'">
      <label>Speeds <NumberBox v-model="one.coarse.rpmPoints" name="Speeds" :least="2" :most="16" /></label>
      <label>Loads <NumberBox v-model="one.coarse.loadPoints" name="Loads" :least="2" :most="16" /></label>
      <label
        >Raster, rpm <NumberBox v-model="one.coarse.rpmStep" name="Raster in rpm" :least="10" :most="2000" :step="50"
      /></label>
      <label
        >Raster, {{ unit }}
        <NumberBox v-model="one.coarse.loadStep" name="Raster of load" :least="0.5" :most="25" :step="0.5"
      /></label>
      <NumberList v-model="one.coarse.rpm" label="Speeds given, rpm" placeholder="free: chosen for the least error" />
      <NumberList
        v-model="one.coarse.load"
        :label="`Loads given, ${unit}`"
        placeholder="free: chosen for the least error"
      />
    </template>
    <template v-else-if="chosen === 'bands'">
      <label
        >Split by
        <ChoiceSelect
          v-model="one.bands.axis"
          name="Split by"
          :choices="[
            { value: 'rpm', label: 'rpm' },
            { value: 'load', label: wanted!.loadAxis === 'throttle' ? 'throttle' : 'pressure' },
          ]"
      /></label>
      <label>Bands <NumberBox v-model="one.bands.bands" name="Bands" :least="2" :most="5" /></label>
      <label
        >Crossover, {{ one.bands.axis === 'rpm' ? 'rpm' : unit }}
        <NumberBox
          v-model="one.bands.crossover"
          name="Width of the crossover"
          :least="0"
          :most="5000"
          :step="one.bands.axis === 'rpm' ? 100 : 1"
      /></label>
      <label
        >Table beside <ChoiceSelect v-model="one.bands.table" name="Table beside the bands" :choices="beside"
      /></label>
      <NumberList v-model="one.bands.edges" label="Edges given" placeholder="free: chosen for the least error" />
    </template>
    <template v-else-if="chosen === 'strips'">
      <label
        >Threshold, {{ unit }} <NumberBox v-model="one.strips.threshold" name="Threshold" :least="0" :most="400"
      /></label>
      <NumberList v-model="one.strips.rpm" label="Speeds, rpm" placeholder="2000 4000 6000" :least="2" />
    </template>
    <template v-else-if="chosen === 'global'">
      <label>Table beside <ChoiceSelect v-model="one.global.table" name="Table beside it" :choices="beside" /></label>
    </template>
    <template v-else-if="chosen === 'pressure'">
      <label
        >Rail now, kPa
        <NumberInput v-model="one.pressure.kPa" name="Rail pressure now" size="small" :min="1" :max="5000"
      /></label>
      <label
        >Manifold, kPa <NumberBox v-model="one.pressure.manifoldKpa" name="Manifold pressure" :least="0" :most="400"
      /></label>
      <label
        >Pump holds, kPa
        <NumberInput
          v-model="one.pressure.mostKpa"
          name="Pressure that the pump holds"
          size="small"
          :min="1"
          :max="5000"
      /></label>
    </template>
    <template v-else-if="chosen === 'filling'">
      <label
        >Table of filling <ChoiceSelect v-model="one.filling.table" name="Table of filling" :choices="fillings"
      /></label>
      <label
        >Commanded lambda <ChoiceSelect v-model="one.filling.intent" name="Commanded lambda" :choices="intents"
      /></label>
      <label
        >Rows made one from, {{ unit }}
        <NumberInput v-model="one.filling.equalFrom" name="Rows made one from" size="small" :min="1" :max="400"
      /></label>
      <p class="soft">
        Fuel = filling ÷ commanded lambda. What was measured off the command goes into the filling; what you intend goes
        into the command, never into the filling.
      </p>
    </template>
    <template v-else>
      <label
        >Table of pulses, ms <ChoiceSelect v-model="one.injectors.table" name="Table of pulses" :choices="pulses"
      /></label>
      <label
        >Old: flow
        <NumberInput v-model="one.injectors.fromFlow" name="Flow of the old" size="small" :min="0.001" :max="1000000"
      /></label>
      <label
        >dead time, ms
        <NumberBox v-model="one.injectors.fromDead" name="Dead time of the old" :least="0" :most="20" :step="0.05"
      /></label>
      <label
        >New: flow
        <NumberInput v-model="one.injectors.toFlow" name="Flow of the new" size="small" :min="0.001" :max="1000000"
      /></label>
      <label
        >dead time, ms
        <NumberBox v-model="one.injectors.toDead" name="Dead time of the new" :least="0" :most="20" :step="0.05"
      /></label>
      <label
        >Old at, kPa
        <NumberInput v-model="one.injectors.kPaFrom" name="Pressure of the old" size="small" :min="1" :max="5000"
      /></label>
      <label
        >New at, kPa
        <NumberInput v-model="one.injectors.kPaTo" name="Pressure of the new" size="small" :min="1" :max="5000"
      /></label>
      <p class="caution">
        Zero the long-term trims first. Then: idle on the trims at 1,000, 1,500 and 2,500 rpm, until they read nothing;
        open loop after that, small openings before large ones. Fuel lines hold pressure: relieve it, no flame near, an
        extinguisher at hand.
      </p>
    </template>
    <p v-if="chosen === 'pressure'" class="caution">
      Fuel under pressure burns: relieve it before a line is opened, no flame near, an extinguisher at hand, and look
      for leaks with the pump running before the engine does. Where the closed loop holds, its trims take the change
      back.
    </p>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 10px;
  margin: 8px 0;
}
label {
  display: grid;
  gap: 2px;
  align-content: start;
  font-size: 12px;
  color: var(--soft);
}
.caution,
.soft {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
