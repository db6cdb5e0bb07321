<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import LiveFigures from './LiveFigures.vue'
import StripCharts from './StripCharts.vue'
import type { Bench } from './useBench'

/** The bench in large type, for a screen across the room; the keys of the driver work as before. */
const props = defineProps<{ bench: Bench; said: string }>()
const emit = defineEmits<{ close: []; stop: [] }>()
const { state, sample, recent, news, unkept, uncalibrated, lags, connection, isDriving } = props.bench
const script = computed(() => news.value?.script ?? null)
const percent = computed(() => Math.round(100 * (script.value?.state.share ?? 0)))
</script>

<template>
  <section class="large" aria-label="Bench in large type">
    <div class="bar">
      <strong>{{ state?.name }}</strong>
      <span v-if="unkept.length" class="mark">not kept: {{ unkept.join(', ') }}</span>
      <span v-if="uncalibrated.length" class="mark">uncalibrated: {{ uncalibrated.join(', ') }}</span>
      <span class="space" />
      <ElButton type="danger" :disabled="!isDriving" @click="emit('stop')">Stop (space)</ElButton>
      <ElButton @click="emit('close')">Usual size (b)</ElButton>
    </div>
    <LiveFigures :sample="sample" :stops="news" large />
    <p class="said" :class="{ alarm: lags || connection === 'lost' }" role="status">
      {{ script ? `${script.name}: ${script.state.phase}, ${percent} %` : said }}
    </p>
    <StripCharts :recent="recent" tall />
  </section>
</template>

<style scoped>
.large {
  display: flex;
  flex-direction: column;
  gap: 16px;
  height: 100%;
  padding: 12px 24px;
}
.bar {
  display: flex;
  gap: 16px;
  align-items: center;
  font-size: 20px;
}
@media (max-width: 700px) {
  .large {
    padding: 8px 12px;
    overflow-y: auto;
  }
  .bar {
    flex-wrap: wrap;
    gap: 8px;
  }
}
.said {
  min-height: 44px;
  font-size: 32px;
  font-weight: 700;
  line-height: 1.3;
}
.alarm {
  color: var(--alarm);
}
.mark {
  padding: 2px 10px;
  background: var(--yuzu);
  color: #22281f;
  border-radius: 4px;
  font-weight: 700;
}
</style>
