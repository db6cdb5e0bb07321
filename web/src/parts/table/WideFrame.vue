<script setup lang="ts">
import { useElementSize, useScroll } from '@vueuse/core'
import { computed, ref } from 'vue'

/** What is wider than its place scrolls, and what is cut at either side is said there. */
defineProps<{ from: string; to: string }>()
const pane = ref<HTMLElement>()
const inner = ref<HTMLElement>()
const { arrivedState } = useScroll(pane)
const { width } = useElementSize(pane)
const { width: whole } = useElementSize(inner)
const beyond = computed(() => {
  const isWider = whole.value > width.value + 2
  return { left: isWider && !arrivedState.left, right: isWider && !arrivedState.right }
})
</script>

<template>
  <div class="frame">
    <div ref="pane" class="scroll">
      <div ref="inner" class="inner"><slot /></div>
    </div>
    <span v-if="beyond.left" class="beyond left figures" aria-hidden="true">← from {{ from }}</span>
    <span v-if="beyond.right" class="beyond right figures" aria-hidden="true">to {{ to }} →</span>
  </div>
</template>

<style scoped>
.frame {
  position: relative;
  display: flex;
  flex: 1;
  min-height: 0;
}
.scroll {
  overflow: auto;
  flex: 1;
  min-width: 0;
  /* A cell that is moved to comes out from behind the heads. */
  scroll-padding: 24px 8px 28px 44px;
  min-height: 0;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
/* As wide as what it holds, and as its place at the least. */
.inner {
  width: max-content;
  min-width: 100%;
  height: 100%;
}
.beyond {
  position: absolute;
  bottom: -9px;
  z-index: 3;
  padding: 1px 8px;
  border-radius: 10px;
  color: var(--paper);
  background: var(--leaf);
  font-size: 12px;
  pointer-events: none;
}
.left {
  left: 48px;
}
.right {
  right: 8px;
}
</style>
