<script setup lang="ts">
import { ElCheckbox, ElInput } from 'element-plus'
import { computed } from 'vue'
import type { JobChange, MachineLimits } from '@yuzumix/core'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { useJob } from '@/job/openJob'
import TwoFuels from './TwoFuels.vue'

/** Limits of the machine and the fuel as sold here: told once, used by plan, filters, bench and report. */
const open = useJob()
const limits = computed<MachineLimits>(() => open.job!.limits ?? {})
const sold = computed(() => open.job!.fuelSold ?? {})
const limit = (change: MachineLimits): void => open.choose({ limits: { ...limits.value, ...change } })
const sell = (change: NonNullable<JobChange['fuelSold']>): void =>
  open.choose({ fuelSold: { ...sold.value, ...change } })
</script>

<template>
  <div class="panel">
    <h2>Limits of this machine</h2>
    <div class="line">
      <label>
        Rev ceiling
        <NumberInput
          :model-value="limits.revCeiling ?? undefined"
          :min="500"
          :max="30000"
          :step="100"
          placeholder="none"
          name="Rev ceiling in rpm"
          @update:model-value="limit({ revCeiling: $event ?? null })"
        />
        rpm
      </label>
      <label class="wide">
        because
        <ElInput
          :model-value="limits.revReason ?? ''"
          maxlength="200"
          aria-label="Reason of the rev ceiling"
          placeholder="worn springs, say"
          @update:model-value="limit({ revReason: $event })"
        />
      </label>
    </div>
    <label class="line"
      >Exhaust gas at the most, °C
      <NumberInput
        :model-value="limits.exhaustC ?? undefined"
        :min="200"
        :max="1200"
        :step="10"
        placeholder="usual"
        name="Exhaust gas at the most in °C"
        @update:model-value="limit({ exhaustC: $event ?? null })"
      />
    </label>
    <ElCheckbox
      :model-value="limits.weakPump ?? false"
      label="The fuel pump is doubted"
      @update:model-value="limit({ weakPump: Boolean($event) })"
    />
    <ElCheckbox
      :model-value="limits.softTyre ?? false"
      label="Soft tyre: short runs on a drum"
      @update:model-value="limit({ softTyre: Boolean($event) })"
    />
    <ElCheckbox
      :model-value="limits.licensed ?? false"
      label="Licensed work (aircraft): read and record only"
      @update:model-value="limit({ licensed: Boolean($event) })"
    />
    <p v-if="limits.licensed" class="caution">
      Tables cannot be changed, and nothing is written to a controller: that is for a licensed mechanic under the rules
      that apply.
    </p>
    <p class="soft">Runs, plan, bench and report go by these.</p>
    <h2>Fuel as sold here</h2>
    <div class="line">
      <label>
        Grade
        <ElInput
          :model-value="sold.grade ?? ''"
          maxlength="60"
          aria-label="Grade"
          @update:model-value="sell({ grade: $event })"
        />
      </label>
      <label>
        Ethanol
        <NumberInput
          :model-value="sold.ethanolPct ?? undefined"
          :min="0"
          :max="100"
          placeholder="not known"
          name="Ethanol in % by volume"
          @update:model-value="sell({ ethanolPct: $event ?? null })"
        />
        %
      </label>
    </div>
    <TwoFuels />
    <label>
      What else differs from where a map of the shelf came from
      <ElInput
        :model-value="sold.differs ?? ''"
        maxlength="500"
        aria-label="What else differs"
        @update:model-value="sell({ differs: $event })"
      />
    </label>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
}
label {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.wide {
  flex: 1;
  flex-wrap: nowrap;
}
</style>
