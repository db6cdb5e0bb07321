<script setup lang="ts">
defineProps<{ label: string; drawerLabel: string; problem: string }>()
</script>

<template>
  <div class="split">
    <section class="left" :aria-label="label">
      <div class="bar"><slot name="bar" /></div>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <slot />
    </section>
    <aside class="drawer" :aria-label="drawerLabel"><slot name="drawer" /></aside>
  </div>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(320px, 1fr);
  height: 100%;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 8px 12px;
  min-height: 0;
}
.bar {
  display: flex;
  gap: 12px;
  align-items: center;
  height: 32px;
  flex: none;
  white-space: nowrap;
}
.bar :deep(.el-radio-group) {
  flex-wrap: nowrap;
}
.drawer {
  background: var(--panel);
  border-left: 1px solid var(--line);
  overflow-y: auto;
  padding: 4px 16px 16px;
}
/* Where one line is too short for it, the bar takes two. */
@media (max-width: 1199px) {
  .bar {
    flex-wrap: wrap;
    row-gap: 4px;
    height: auto;
    min-height: 32px;
  }
}
@media (max-width: 700px) {
  .split {
    display: block;
    overflow-y: auto;
  }
  .left {
    min-height: 70%;
  }
  .bar {
    white-space: normal;
  }
  .bar :deep(.el-radio-group) {
    flex-wrap: wrap;
  }
  .drawer {
    border-left: 0;
    border-top: 1px solid var(--line);
  }
}
.problem {
  padding: 8px 12px;
  border-left: 4px solid var(--alarm);
  background: var(--panel);
}
</style>
