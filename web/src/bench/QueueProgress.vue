<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { RunQueue } from './useRunQueue'

/** Which run of a queue is made, how many are left, and the way to stop them. */
defineProps<{ queue: RunQueue }>()
</script>

<template>
  <p role="status">
    {{ queue.head.value }}; {{ queue.left.value }} of {{ queue.total.value }} left
    <ElButton size="small" type="danger" @click="queue.stop()">Stop the runs (space)</ElButton>
  </p>
</template>
