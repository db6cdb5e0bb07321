<script setup lang="ts">
import { computed } from 'vue'
import { LOAD_UNITS, isMisfire, type CylinderField, type Field } from '@yuzumix/core'
import { nodeRoom, RULER_MARGIN, type RulerScale } from '@/parts/chart/rulerScale'
import { counted, grouped, signed } from '@/parts/numbers/format'
import { changeColour, inkOn } from './changeColour'

const props = defineProps<{
  field: Field
  cylinder: CylinderField
  x: RulerScale
  top: number
  height: number
  selected: { row: number; column: number } | null
  dark: boolean
}>()
const emit = defineEmits<{ select: [{ row: number; column: number }] }>()

/** Half interval (in %) at which a node's square is full. */
const FULL_EVIDENCE = 1

const rowHeight = computed(() => props.height / props.field.grid.load.length)
const room = computed(() => Math.min(nodeRoom(props.field.grid, props.x), rowHeight.value))
const y = (row: number): number => props.top + props.height - (row + 0.5) * rowHeight.value
const paper = computed(() => (props.dark ? '#34382f' : '#e9e6da'))

interface Node {
  key: string
  row: number
  column: number
  x: number
  y: number
  side: number
  colour: string
  ink: string
  text: string
  held: boolean
  bridged: boolean
  title: string
}

const nodes = computed<Node[]>(() => {
  const { grid, method } = props.field
  const { changePct, lowPct, highPct, evidence, held, byTrim, samples, silentPct } = props.cylinder
  return grid.load.flatMap((load, row) =>
    grid.rpm.map((rpm, column): Node => {
      const change = changePct[row]![column]!
      const half = highPct[row]![column] === null ? null : (highPct[row]![column]! - lowPct[row]![column]!) / 2
      // Area is the evidence: an interval twice as wide has half the area. Without intervals (nearest cell), all alike.
      const share = half === null ? (method === 'nearest' ? 0.6 : 0) : Math.min(1, Math.max(0.25, FULL_EVIDENCE / half))
      const known = change !== null
      const isHeld = held[row]![column]! && !byTrim[row]![column]
      const isMute = silentPct[row]![column] !== null
      const isSilent = isMisfire(props.field.misfires, grid, props.cylinder.cylinder, row, column)
      return {
        key: `${row}:${column}`,
        row,
        column,
        x: props.x(rpm),
        y: y(row),
        side: isHeld || isSilent ? room.value - 3 : known ? (room.value - 3) * Math.sqrt(share) : 0,
        colour: known ? changeColour(change, paper.value) : paper.value,
        ink: inkOn(known ? changeColour(change, paper.value) : paper.value),
        text: isHeld
          ? room.value >= ROOM_FOR_WORDS
            ? 'held'
            : ''
          : isSilent || isMute
            ? '!'
            : known
              ? shown(change)
              : '',
        held: held[row]![column]!,
        bridged: evidence[row]![column] === 'bridged',
        title: isHeld
          ? `${grouped(rpm)} rpm, ${load}: held by closed loop, not known`
          : known
            ? `${grouped(rpm)} rpm, ${load}: ${signed(change, 1)} %, ${evidence[row]![column]}, ${counted(samples[row]![column]!, 'sample')}${held[row]![column] ? ', held by closed loop' : ''}${isMute ? ', does not answer to fuel' : ''}`
            : isSilent
              ? `${grouped(rpm)} rpm, ${load}: misfire, no fuel`
              : `${grouped(rpm)} rpm, ${load}: no evidence`,
      }
    }),
  )
})
const unit = computed(() => LOAD_UNITS[props.field.grid.loadAxis])
/** The smallest that is read at arm's length, and the least room of a cell for a word of that size. */
const LEAST_TEXT = 11.5
const ROOM_FOR_WORDS = 22
const fontSize = computed(() => Math.max(LEAST_TEXT, Math.min(13, room.value / 3.1)))
/** Below this room figures would run into each other: the colour tells, the list beside it says how much. */
const ROOM_FOR_FIGURES = 17
/** Tenths where they fit in the square and matter. */
const shown = (change: number): string =>
  room.value < ROOM_FOR_FIGURES ? '' : signed(change, room.value >= 29 && Math.abs(change) < 9.95 ? 1 : 0)
</script>

<template>
  <g class="field">
    <defs>
      <pattern id="held-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="6" class="hatch" />
      </pattern>
    </defs>
    <text
      v-for="(load, row) in field.grid.load"
      :key="load"
      :x="RULER_MARGIN.left - 8"
      :y="y(row) + 4"
      text-anchor="end"
      class="load"
      >{{ load }} {{ unit }}</text
    >
    <g v-for="node in nodes" :key="node.key" class="node" @click="emit('select', node)">
      <title>{{ node.title }}</title>
      <rect :x="node.x - room / 2" :y="node.y - room / 2" :width="room" :height="room" fill="transparent" />
      <template v-if="node.side">
        <rect
          :x="node.x - node.side / 2"
          :y="node.y - node.side / 2"
          :width="node.side"
          :height="node.side"
          :fill="node.bridged ? paper : node.colour"
          :stroke="node.bridged ? node.colour : undefined"
          rx="2"
          :class="node.bridged ? 'bridged' : 'square'"
        />
        <rect
          v-if="node.held"
          :x="node.x - node.side / 2"
          :y="node.y - node.side / 2"
          :width="node.side"
          :height="node.side"
          fill="url(#held-hatch)"
          rx="2"
        />
        <text
          :x="node.x"
          :y="node.y + fontSize * 0.36"
          text-anchor="middle"
          :fill="node.bridged ? 'var(--ink)' : node.ink"
          :font-size="fontSize"
          class="number"
          >{{ node.text }}</text
        >
      </template>
      <circle v-else :cx="node.x" :cy="node.y" r="1.6" class="dot" />
    </g>
    <rect
      v-if="selected"
      :x="x(field.grid.rpm[selected.column]!) - room / 2"
      :y="y(selected.row) - room / 2"
      :width="room"
      :height="room"
      rx="3"
      class="selected"
    />
    <rect
      v-if="selected"
      :x="x(field.grid.rpm[selected.column]!) - room / 2 + 2"
      :y="y(selected.row) - room / 2 + 2"
      :width="room - 4"
      :height="room - 4"
      rx="2"
      class="selected-inner"
    />
  </g>
</template>

<style scoped>
.load {
  fill: var(--soft);
  font: 12px var(--figures);
}
.number {
  font-family: var(--figures);
  font-variant-numeric: tabular-nums;
  letter-spacing: -0.04em;
}
.square {
  stroke: color-mix(in srgb, var(--ink) 22%, transparent);
  stroke-width: 0.75;
}
.bridged {
  stroke-width: 2.5;
}
.bridged ~ .number {
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 2.5px;
}
.hatch {
  stroke: var(--ink);
  stroke-width: 1.4;
  opacity: 0.35;
}
.dot {
  fill: var(--line-strong);
}
.node {
  cursor: pointer;
}
.selected {
  fill: none;
  stroke: var(--yuzu);
  stroke-width: 4;
  pointer-events: none;
}
.selected-inner {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
  pointer-events: none;
}
</style>
