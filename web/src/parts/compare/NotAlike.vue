<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { Mismatch } from '@yuzumix/core'

/** What two sides do not share, and the way to compare them all the same. */
const props = defineProps<{ refused: Mismatch[]; accepted: Mismatch['what'][] }>()
const emit = defineEmits<{ accept: [all: Mismatch['what'][]] }>()
const accept = (): void => emit('accept', [...new Set([...props.accepted, ...props.refused.map((one) => one.what)])])
</script>

<template>
  <div class="refused" role="alert">
    <h2>Not measured alike</h2>
    <p v-for="one in refused" :key="one.message">{{ one.message }}</p>
    <p class="soft"><slot /></p>
    <ElButton @click="accept">Compare all the same</ElButton>
  </div>
</template>

<style scoped>
.refused {
  display: grid;
  gap: 12px;
  justify-items: start;
  text-align: left;
  max-width: 520px;
  padding: 20px;
  background: var(--panel);
  border-left: 4px solid var(--yuzu);
}
</style>
