<script setup lang="ts">
import { ElButton } from 'element-plus'

/** What a worker is doing, and a way to stop it once it takes long. */
defineProps<{ busy: boolean; slow: boolean; doing: string; idle?: string }>()
defineEmits<{ stop: [] }>()
</script>

<template>
  <span class="soft" role="status"
    >{{ busy ? doing : idle }}
    <ElButton v-if="busy && slow" size="small" @click="$emit('stop')">Stop</ElButton>
  </span>
</template>
