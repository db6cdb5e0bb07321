<script setup lang="ts">
import { computed } from 'vue'
import { channelKind, channelTitle, heatWords, type AnswerOf } from '@yuzumix/core'
import { plain } from '@/parts/numbers/format'

/** What was read beside the mixture at one cell, against its limits. */
const props = defineProps<{ beside: AnswerOf<'beside'>; at: { row: number; column: number } }>()
const at = <T>(cells: readonly (readonly (T | null)[])[]): T | null => cells[props.at.row]?.[props.at.column] ?? null
const steady = computed(() => at(props.beside.steadyPct))
const read = computed(() =>
  props.beside.channels.flatMap(({ channel, mean, most, limit }) => {
    const [middle, highest] = [at(mean), at(most)]
    if (middle === null || highest === null) return []
    const unit = channelKind(channel)?.unit ?? ''
    return [
      {
        channel,
        title: channelTitle(channel),
        middle,
        highest,
        limit,
        unit,
        isOver: limit !== null && highest > limit,
      },
    ]
  }),
)
const heat = computed(() => heatWords(props.beside.heat))
</script>

<template>
  <template v-if="steady !== null || read.length">
    <h3>Heat and duty</h3>
    <dl>
      <template v-if="steady !== null">
        <dt>Steadiness</dt>
        <dd>
          within <span class="figures">± {{ plain(steady, 2) }} %</span>
          <span class="soft"> over 0.3 to 2 s, its trend taken out</span>
        </dd>
      </template>
      <template v-for="one in read" :key="one.channel">
        <dt>{{ one.title }}</dt>
        <dd :class="{ over: one.isOver }">
          <span class="figures">{{ plain(one.middle, 0) }} {{ one.unit }}</span>, at most
          <span class="figures">{{ plain(one.highest, 0) }}</span>
          <template v-if="one.limit !== null"
            >; {{ one.isOver ? 'over the limit of' : 'limit' }}
            <span class="figures">{{ plain(one.limit, 0) }} {{ one.unit }}</span></template
          >
        </dd>
      </template>
    </dl>
    <p v-if="heat" :class="{ over: beside.heat.verdict === 'disagree' }">{{ heat }}</p>
  </template>
</template>

<style scoped>
h3 {
  margin-top: 8px;
}
dl {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 4px 8px;
  margin: 0;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
.over {
  color: var(--alarm);
  font-weight: 700;
}
</style>
