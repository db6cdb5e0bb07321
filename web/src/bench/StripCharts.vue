<script setup lang="ts">
import { extent, line, scaleLinear } from 'd3'
import { useElementSize } from '@vueuse/core'
import { ref, watch } from 'vue'
import type { RigSample } from '@yuzumix/core'
import { grouped } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'
import { LOOK_BACK } from './shownReadings'

/** The last seconds as strips, drawn on a canvas so that sixty frames a second cost little. */
const props = defineProps<{ recent: readonly RigSample[]; tall?: boolean }>()
const display = useDisplay()
const box = ref<HTMLElement>()
const canvas = ref<HTMLCanvasElement>()
const { width, height } = useElementSize(box)

interface Strip {
  name: string
  unit: string
  /** least span of the scale, so that noise does not fill it */
  span: number
  /** what each of its lines shows */
  lines: ((sample: RigSample) => number)[]
}
/** The factors are asked for once a drawing: a reading is shown some hundred times while it passes. */
function stripsOf(cylinders: number, hasTorque: boolean): Strip[] {
  const mixture = display.factorOf('lambda')
  const torque = display.factorOf('torque')
  const probes = Array.from({ length: cylinders }, (_, c) => (one: RigSample) => one.lambda[c]! * mixture)
  return [
    { name: 'rpm', unit: '', span: 1000, lines: [(one) => one.rpm] },
    { name: 'mixture', unit: display.unitOf('lambda'), span: 0.1, lines: probes },
    ...(hasTorque
      ? [{ name: 'torque', unit: display.unitOf('torque'), span: 10, lines: [(one: RigSample) => one.torque * torque] }]
      : [{ name: 'throttle', unit: '%', span: 20, lines: [(one: RigSample) => one.throttle] }]),
  ]
}
const LEFT = 58

function draw(): void {
  const element = canvas.value
  const context = element?.getContext('2d')
  if (!element || !context || width.value < 100) return
  const ratio = window.devicePixelRatio || 1
  const [across, down] = [Math.round(width.value * ratio), Math.round(height.value * ratio)]
  if (element.width !== across || element.height !== down) [element.width, element.height] = [across, down]
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  context.clearRect(0, 0, width.value, height.value)
  const style = getComputedStyle(element)
  const colour = (name: string): string => style.getPropertyValue(name).trim()
  const { recent } = props
  const strips = stripsOf(recent[0]?.lambda.length ?? 0, !Number.isNaN(recent[0]?.torque ?? 0))
  const each = height.value / strips.length
  const last = recent.at(-1)?.time ?? 0
  const x = scaleLinear([last - LOOK_BACK, last], [LEFT, width.value - 8])
  const at = recent.map((one) => x(one.time))
  const colours = [colour('--leaf'), colour('--rich'), colour('--lean'), colour('--ink')]
  strips.forEach(({ name, unit, span, lines }, k) => {
    const top = k * each
    const traces = lines.map((of) => recent.map(of))
    const ends = traces.map((values) => extent(values))
    const [low = 0, high = 1] = extent(ends.flat() as number[])
    const room = Math.max(0, (span - (high - low)) / 2)
    const y = scaleLinear([low - room, high + room], [top + each - 6, top + 20])
    context.strokeStyle = colour('--line')
    context.strokeRect(LEFT - 0.5, top + 0.5, width.value - LEFT - 8, each - 4)
    context.fillStyle = colour('--soft')
    context.font = `11px ${colour('--figures')}`
    context.textAlign = 'right'
    for (const tick of y.ticks(2))
      context.fillText(name === 'rpm' ? grouped(tick) : y.tickFormat(2)(tick), LEFT - 6, y(tick) + 4)
    context.textAlign = 'left'
    context.fillText(unit ? `${name}, ${unit}` : name, LEFT + 6, top + 13)
    traces.forEach((values, c) => {
      context.beginPath()
      line<number>()
        .x((_, i) => at[i]!)
        .y((value) => y(value))
        .context(context)(values)
      context.strokeStyle = colours[c]!
      // A hairline: a wider stroke of a thousand points is most of what a showing takes without a graphics card.
      context.lineWidth = props.tall ? 1.5 : 1
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
  contain: size;
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
