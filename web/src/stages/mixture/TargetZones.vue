<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import type { LoadGrid, TargetZone } from '@yuzumix/core'
import { useJob } from '@/job/openJob'

/** Parts of the table with a target of their own; the last zone that holds a node counts. */
const props = defineProps<{ grid: LoadGrid | null }>()
const open = useJob()
const mixture = computed(() => open.job!.mixture)

const ZONE_FIELDS = [
  ['fromRpm', 'from rpm', 0, 30000, 100],
  ['toRpm', 'to rpm', 0, 30000, 100],
  ['fromLoad', 'from load', 0, 400, 5],
  ['toLoad', 'to load', 0, 400, 5],
  ['lambda', 'λ', 0.5, 1.6, 0.01],
] as const

function setZone(k: number, change: Partial<TargetZone>): void {
  const zones = mixture.value.target.zones.map((zone, at) => (at === k ? { ...zone, ...change } : zone))
  open.chooseMixture({ target: { ...mixture.value.target, zones } })
}
function addZone(): void {
  const grid = props.grid
  const zone: TargetZone = {
    fromRpm: grid?.rpm[0] ?? 2000,
    toRpm: grid?.rpm.at(-1) ?? 6000,
    fromLoad: 0,
    toLoad: 20,
    lambda: 0.97,
  }
  open.chooseMixture({ target: { ...mixture.value.target, zones: [...mixture.value.target.zones, zone] } })
}
const dropZone = (k: number): void =>
  open.chooseMixture({
    target: { ...mixture.value.target, zones: mixture.value.target.zones.filter((_, at) => at !== k) },
  })
</script>

<template>
  <div v-for="(zone, k) in mixture.target.zones" :key="k" class="zone">
    <label v-for="[key, label, least, most, step] in ZONE_FIELDS" :key="key">
      <span class="soft">{{ label }}</span>
      <NumberInput
        :model-value="zone[key]"
        :min="least"
        :max="most"
        :step="step"
        :controls="false"
        size="small"
        :name="`Zone ${k + 1} ${label}`"
        @update:model-value="setZone(k, { [key]: $event ?? zone[key] })"
      />
    </label>
    <ElButton size="small" :aria-label="`Drop zone ${k + 1}`" @click="dropZone(k)">Drop</ElButton>
  </div>
  <ElButton size="small" class="start" @click="addZone">Add a target zone</ElButton>
</template>

<style scoped>
.zone {
  display: grid;
  grid-template-columns: repeat(5, 1fr) auto;
  gap: 4px;
  align-items: end;
  font-size: 12px;
}
.zone :deep(.number-input) {
  width: 100%;
}
</style>
