<script setup lang="ts">
import { extent, line, scaleLinear } from 'd3'
import { useElementSize } from '@vueuse/core'
import { ref, watch } from 'vue'
import type { RigSample } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import { LOOK_BACK } from './useBench'

/** The last seconds as strips, drawn on a canvas so that sixty frames a second cost little. */
const props = defineProps<{ recent: readonly RigSample[]; tall?: boolean }>()
const display = useDisplay()
const box = ref<HTMLElement>()
const canvas = ref<HTMLCanvasElement>()
const { width, height } = useElementSize(box)

interface Strip {
  name: string
  /** least span of the scale, so that noise does not fill it */
  span: number
  of: (sample: RigSample) => number[]
}
const STRIPS: Strip[] = [
  { name: 'rpm', span: 1000, of: (one) => [one.rpm] },
  { name: 'mixture', span: 0.1, of: (one) => one.lambda.map((value) => value * display.factorOf('lambda')) },
  { name: 'torque', span: 10, of: (one) => [one.torque * display.factorOf('torque')] },
]
const LEFT = 58

function draw(): void {
  const element = canvas.value
  const context = element?.getContext('2d')
  if (!element || !context || width.value < 100) return
  const ratio = window.devicePixelRatio || 1
  element.width = width.value * ratio
  element.height = height.value * ratio
  context.scale(ratio, ratio)
  const style = getComputedStyle(element)
  const colour = (name: string): string => style.getPropertyValue(name).trim()
  const each = height.value / STRIPS.length
  const last = props.recent.at(-1)?.time ?? 0
  const x = scaleLinear([last - LOOK_BACK, last], [LEFT, width.value - 8])
  STRIPS.forEach((strip, k) => {
    const top = k * each
    const rows = props.recent.map(strip.of)
    const [low = 0, high = 1] = extent(rows.flat())
    const room = Math.max(0, (strip.span - (high - low)) / 2)
    const y = scaleLinear([low - room, high + room], [top + each - 6, top + 16])
    context.strokeStyle = colour('--line')
    context.strokeRect(LEFT - 0.5, top + 0.5, width.value - LEFT - 8, each - 4)
    context.fillStyle = colour('--soft')
    context.font = `11px ${colour('--figures')}`
    context.textAlign = 'right'
    for (const tick of y.ticks(2))
      context.fillText(strip.name === 'rpm' ? grouped(tick) : y.tickFormat(2)(tick), LEFT - 6, y(tick) + 4)
    context.textAlign = 'left'
    context.fillText(
      strip.name === 'rpm' ? 'rpm' : `${strip.name}, ${display.unitOf(strip.name === 'mixture' ? 'lambda' : 'torque')}`,
      LEFT + 6,
      top + 13,
    )
    const colours = [colour('--leaf'), colour('--rich'), colour('--lean'), colour('--ink')]
    ;(rows[0] ?? []).forEach((_, c) => {
      context.beginPath()
      line<number[]>()
        .x((_row, i) => x(props.recent[i]!.time))
        .y((row) => y(row[c]!))
        .context(context)(rows)
      context.strokeStyle = colours[c]!
      context.lineWidth = 1.5
      context.stroke()
    })
  })
}
watch([() => props.recent, width, height, () => display.dark], draw, { flush: 'post' })
</script>

<template>
  <div ref="box" class="strips" :class="{ tall }"><canvas ref="canvas" aria-hidden="true" /></div>
</template>

<style scoped>
.strips {
  height: 190px;
  flex: none;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow: hidden;
}
/* Takes what the figures leave. */
.tall {
  flex: 1;
  min-height: 120px;
}
canvas {
  width: 100%;
  height: 100%;
  display: block;
}
</style>
