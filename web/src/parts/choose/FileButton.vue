<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'

/** A button that asks for a file; the same one may be chosen again. */
defineProps<{
  /** what the file is, for who hears the page */
  name: string
  accept: string
  size?: 'small' | 'default'
  loading?: boolean
  /** a picture may be taken on the spot */
  camera?: boolean
}>()
const emit = defineEmits<{ chosen: [file: File] }>()
const input = ref<HTMLInputElement>()

function choose(): void {
  const file = input.value!.files?.[0]
  input.value!.value = ''
  if (file) emit('chosen', file)
}
</script>

<template>
  <span class="file-button">
    <ElButton :size="size" :loading="loading" @click="input!.click()"><slot /></ElButton>
    <input
      ref="input"
      class="sr-only"
      tabindex="-1"
      type="file"
      :accept="accept"
      :capture="camera ? 'environment' : undefined"
      :aria-label="name"
      @change="choose"
    />
  </span>
</template>

<style scoped>
.file-button {
  position: relative;
  flex: none;
}
</style>
