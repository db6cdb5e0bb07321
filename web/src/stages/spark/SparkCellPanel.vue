<script setup lang="ts">
import { computed } from 'vue'
import {
  LOAD_UNITS,
  stopName,
  type JudgedBin,
  type SparkArithmetic,
  type SparkNode,
  type TableInfo,
} from '@yuzumix/core'
import { fullText, grouped, plain, signed } from '@/parts/numbers/format'

/** One cell of a spark table: what is there, what is suggested and why. */
const props = defineProps<{
  info: TableInfo
  node: SparkNode | null
  bins: JudgedBin[]
  at: { row: number; column: number }
  value: number
}>()
const before = computed(() => props.info.table.values[props.at.row]![props.at.column]!)
const near = computed(() => props.bins.filter((one) => props.node?.points.includes(one.key)))

function line({ what, values: v, result }: SparkArithmetic): { sum: string; words: string } | null {
  switch (what) {
    case 'surface':
      return {
        sum: `best ${plain(v['best']!, 1)}° (${plain(v['low']!, 1)} to ${plain(v['high']!, 1)}), least that serves ${plain(v['advised']!, 1)}°: ${signed(result)}°`,
        words: 'from one surface of best advance through all points',
      }
    case 'doubt':
      return {
        sum: `→ ${signed(result)}°`,
        words: `taken by ${plain(100 * v['sure']! * v['known']!, 0)} %: as sure as the gain is, and as near as points lie`,
      }
    case 'taper':
      return { sum: `→ ${signed(result)}°`, words: 'what is left of the change beside it, so that no tooth stands' }
    case 'limit':
      return { sum: `${signed(v['change']!)}° → ${signed(result)}°`, words: 'the limit for this pass' }
    case 'apply':
      return { sum: `${fullText(v['before']!)} ${signed(v['change']!)}° → ${fullText(result)}°`, words: 'new value' }
    default:
      return null
  }
}
const lines = computed(() => (props.node?.arithmetic ?? []).flatMap((step) => line(step) ?? []))
</script>

<template>
  <div class="panel">
    <h2 class="figures">
      {{ grouped(info.table.rpm[at.column]!) }} rpm · {{ info.table.load[at.row] }}
      {{ LOAD_UNITS[info.table.loadAxis] }}
    </h2>
    <dl class="facts figures">
      <dt>saved</dt>
      <dd>{{ fullText(before) }}°</dd>
      <dt>now</dt>
      <dd><strong>{{ fullText(value) }}°</strong> <span class="soft">({{ signed(value - before) }}°)</span></dd>
      <template v-if="node">
        <dt>suggested</dt>
        <dd>{{ fullText(node.after) }}° ({{ signed(node.changeDeg) }}°)</dd>
        <dt>why</dt>
        <dd>{{ node.reason }}</dd>
        <template v-if="node.best">
          <dt>best torque</dt>
          <dd>{{ plain(node.best.value, 1) }}° ({{ plain(node.best.low, 1) }} to {{ plain(node.best.high, 1) }})</dd>
        </template>
        <template v-if="node.gainPct && node.changeDeg !== 0">
          <dt>gains</dt>
          <dd>
            {{ signed(node.gainPct.value, 1) }} % of torque ({{ signed(node.gainPct.low, 1) }} to
            {{ signed(node.gainPct.high, 1) }})
          </dd>
        </template>
        <template v-if="node.knockFrom !== null">
          <dt>knock</dt>
          <dd>may begin at {{ plain(node.knockFrom, 1) }}°</dd>
        </template>
      </template>
    </dl>
    <template v-if="near.length">
      <h3>Points near it</h3>
      <ul>
        <li v-for="one in near" :key="one.key">
          <span class="figures">{{ stopName(one.bin.stop) }}, {{ grouped(one.bin.rpm) }} rpm</span>
          <span class="soft">{{ one.stale ? 'stale: the mixture moved' : one.fit.note }}</span>
        </li>
      </ul>
    </template>
    <template v-if="lines.length">
      <h3>Arithmetic</h3>
      <ul class="sums">
        <li v-for="(one, k) in lines" :key="k">
          <span class="figures">{{ one.sum }}</span>
          <span class="soft">{{ one.words }}</span>
        </li>
      </ul>
    </template>
    <p v-if="!node" class="soft">Nothing is suggested until points were measured at several settings.</p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.sums {
  padding: 8px;
  background: var(--paper);
  border-radius: 4px;
}
li {
  display: grid;
  font-size: 13px;
}
</style>
