<script setup lang="ts">
import { ElButton } from 'element-plus'
import { useDropZone } from '@vueuse/core'
import { ref } from 'vue'
import { useIntake } from '@/job/intake'

defineProps<{ compact?: boolean }>()
const intake = useIntake()
const input = ref<HTMLInputElement>()

function choose(list: ArrayLike<File> | null | undefined): void {
  if (list?.length) intake.files = Array.from(list)
}
const { isOverDropZone: over } = useDropZone(document.body, { onDrop: (dropped) => choose(dropped) })
</script>

<template>
  <div :class="{ compact }" class="drop">
    <template v-if="!compact">
      <h2>Drop logs here</h2>
      <p class="soft">
        One or many CSV logs with rpm, throttle and lambda or AFR over time. Other columns are welcome.
      </p>
    </template>
    <ElButton :type="compact ? 'default' : 'primary'" :size="compact ? 'small' : 'default'" @click="input?.click()"
      >Add logs</ElButton
    >
    <input
      ref="input"
      class="sr-only"
      tabindex="-1"
      type="file"
      multiple
      accept=".csv,.txt,.log,.tsv,.gz,.zip,.xlsx,text/*"
      aria-label="Logs to add"
      @change="(choose(($event.target as HTMLInputElement).files), (($event.target as HTMLInputElement).value = ''))"
    />
    <div v-if="over" class="over">Drop to add these logs to the job</div>
  </div>
</template>

<style scoped>
.drop:not(.compact) {
  display: grid;
  gap: 8px;
  justify-items: start;
  padding: 24px;
  border: 2px dashed var(--line-strong);
  border-radius: 8px;
}
.over {
  position: fixed;
  inset: 0;
  z-index: 3000;
  display: grid;
  place-items: center;
  font-size: 22px;
  font-weight: 700;
  background: color-mix(in srgb, var(--paper) 85%, transparent);
  border: 6px solid var(--yuzu);
  pointer-events: none;
}
</style>
