<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { fuelWithEthanol, twoFuels } from '@yuzumix/core'
import { useJob } from '@/job/openJob'

/** Ethanol said twice and differently: asked where either is said, until one is chosen for both. */
const open = useJob()
const two = computed(() => twoFuels(open.job!))
const both = (pct: number): void =>
  open.choose({ fuel: fuelWithEthanol(pct), fuelSold: { ...open.job!.fuelSold, ethanolPct: pct } })
</script>

<template>
  <div v-if="two" class="asked" role="alert">
    <span>The fuel in the tank has {{ two.tank }} % ethanol, what is sold here {{ two.sold }} %. Which is it?</span>
    <ElButton v-for="pct in [two.tank, two.sold]" :key="pct" size="small" @click="both(pct)">{{ pct }} %</ElButton>
  </div>
</template>

<style scoped>
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  padding: 8px 12px;
  border-left: 4px solid var(--yuzu);
  background: var(--panel);
}
</style>
