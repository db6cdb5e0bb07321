<script setup lang="ts">
import { plain } from '@/parts/numbers/format'
import { ElCheckbox } from 'element-plus'
import { CHECKS, type Check } from '@yuzumix/core'
import type { Jetting } from './useJetting'

/** What is looked at before any jet is changed. */
const props = defineProps<{ jetting: Jetting }>()
const { settings, trust } = props.jetting
function set(id: Check, done: boolean): void {
  const checks = settings.value.checks.filter((one) => one !== id)
  props.jetting.choose({ checks: done ? [...checks, id] : checks })
}
</script>

<template>
  <div class="panel">
    <h3>Before any jet</h3>
    <ElCheckbox
      v-for="one in CHECKS"
      :key="one.id"
      :model-value="settings.checks.includes(one.id)"
      @update:model-value="set(one.id, Boolean($event))"
      >{{ one.name }}</ElCheckbox
    >
    <p role="status">
      {{
        trust.left
          ? `${trust.left} open: trust is ${trust.word}, and what is predicted may be off by ${plain(165 * trust.doubt, 0)} % more.`
          : 'All done: trust is full.'
      }}
    </p>
    <p class="soft">
      A wrong float level or a leak reads as a wrong jet. What is jetted round it has to be undone when it is mended.
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 4px;
}
</style>
