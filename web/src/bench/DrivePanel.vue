<script setup lang="ts">
import { setsPlate } from '@yuzumix/core'
import { ElButton, ElRadioButton, ElRadioGroup, ElSwitch } from 'element-plus'
import { computed } from 'vue'
import type { RigControls } from '@yuzumix/core'
import LabelledSlider from '@/parts/numbers/LabelledSlider.vue'
import { grouped } from '@/parts/numbers/format'
import type { Bench } from './useBench'

const props = defineProps<{ bench: Bench }>()
const { connection, controls, isDriving, news, sample } = props.bench
const busy = computed(() => news.value?.script !== null)
const brakeRpm = computed(() => (controls.value?.brake.kind === 'hold' ? controls.value.brake.rpm : null))
const most = computed(() => props.bench.state.value?.redline ?? 10000)
/** Riding modes that the controller has a plate table for; none where a cable moves the plate. */
const modes = computed(() => props.bench.state.value?.tables.filter((one) => setsPlate(one.table)).length ?? 0)
const SWITCHES: { key: 'ignition' | 'fuel' | 'fan'; name: string; hint: string }[] = [
  { key: 'ignition', name: 'Ignition', hint: 'i' },
  { key: 'fuel', name: 'Fuel', hint: 'c' },
  { key: 'fan', name: 'Fan', hint: 'f' },
]
/** A slider also speaks up when it is only told something: nothing is set unless somebody may set it. */
function set(change: Partial<RigControls>): void {
  if (isDriving.value && !busy.value) props.bench.set(change)
}
const LEAST_BRAKE = 1500
/** Where the brake's slider stands: never outside its range, or it would set itself. */
const brakeShown = computed(() => {
  const rpm = brakeRpm.value ?? Math.round((sample.value?.rpm ?? 3000) / 100) * 100
  return Math.min(most.value, Math.max(LEAST_BRAKE, rpm))
})
</script>

<template>
  <div class="panel">
    <div class="line">
      <ElButton v-if="!isDriving" type="primary" size="small" :disabled="connection !== 'open'" @click="bench.drive()"
        >Take the wheel</ElButton
      >
      <ElButton v-else size="small" @click="bench.letGo()">Let go</ElButton>
      <span class="soft">{{
        isDriving
          ? 'You drive.'
          : news?.driver
            ? 'Somebody else drives; you watch.'
            : connection === 'opening'
              ? 'Joining the stream.'
              : 'Nobody drives.'
      }}</span>
    </div>
    <template v-if="controls">
      <div class="switches">
        <label v-for="one in SWITCHES" :key="one.key">
          <ElSwitch
            :model-value="controls[one.key]"
            size="small"
            :disabled="!isDriving || busy"
            :aria-label="one.name"
            @update:model-value="set({ [one.key]: Boolean($event) })"
          />
          {{ one.name }} <kbd class="figures soft">{{ one.hint }}</kbd>
        </label>
      </div>
      <ElRadioGroup
        v-if="modes > 1"
        :model-value="controls.mode"
        size="small"
        :disabled="!isDriving || busy"
        aria-label="Riding mode"
        @update:model-value="set({ mode: Number($event) })"
      >
        <ElRadioButton v-for="n in modes" :key="n" :value="n - 1">mode {{ n }}</ElRadioButton>
      </ElRadioGroup>
      <LabelledSlider
        :label="modes ? 'Grip (up, down)' : 'Throttle (up, down)'"
        :shown="`${Math.round(controls.throttle)} %`"
        name="Throttle in percent"
        :model-value="controls.throttle"
        :least="0"
        :most="100"
        @update:model-value="set({ throttle: $event })"
      />
      <LabelledSlider
        label="Brake holds (left, right)"
        :shown="brakeRpm === null ? 'off' : `${grouped(brakeRpm)} rpm`"
        name="Brake speed in rpm"
        :model-value="brakeShown"
        :least="LEAST_BRAKE"
        :most="most"
        :step="100"
        @update:model-value="$event !== brakeShown && set({ brake: { kind: 'hold', rpm: $event } })"
      />
      <div class="line">
        <ElButton size="small" :disabled="!isDriving || busy" @click="set({ brake: { kind: 'off' } })"
          >Brake off</ElButton
        >
        <span>Gear</span>
        <ElButton
          v-for="gear in [0, 1, 2, 3, 4, 5, 6]"
          :key="gear"
          size="small"
          class="gear figures"
          :type="controls.gear === gear ? 'primary' : 'default'"
          :aria-label="gear === 0 ? 'Neutral' : `Gear ${gear}`"
          :aria-pressed="controls.gear === gear"
          :disabled="!isDriving || busy"
          @click="set({ gear })"
          >{{ gear === 0 ? 'N' : gear }}</ElButton
        >
      </div>
      <LabelledSlider
        label="Advance added"
        :shown="`${controls.sparkOffset} °`"
        name="Advance added in degrees"
        :model-value="controls.sparkOffset"
        :least="-12"
        :most="12"
        @update:model-value="set({ sparkOffset: $event })"
      />
      <div class="line">
        <ElButton size="small" :disabled="!isDriving || busy || news?.recording" @click="bench.record()"
          >Record (r)</ElButton
        >
        <ElButton size="small" type="danger" :disabled="!isDriving" @click="bench.stop()">Stop (space)</ElButton>
      </div>
    </template>
    <p class="caution">
      Extraction and a carbon monoxide alarm indoors. Nobody near drum, chain and rear wheel; somebody else within reach
      of the stop. Lean and hot at load, or knock: stop. What stops a run by itself is no substitute for a hand on the
      switch.
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
.line,
.switches {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.switches {
  gap: 16px;
}
.gear {
  min-width: 28px;
  padding: 5px 8px;
  margin-left: 0 !important;
}
kbd {
  padding: 0 4px;
  border: 1px solid var(--line-strong);
  border-radius: 3px;
}
</style>
