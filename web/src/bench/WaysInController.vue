<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { nameOfWay, type ControllerWays, type TableInfo } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { plain, signed } from '@/parts/numbers/format'
import type { Bench } from './useBench'

/** Ways that the job has taken and the controller knows: what stands in it, and writing it. */
const props = defineProps<{ bench: Bench; working: boolean }>()
const emit = defineEmits<{ write: [work: () => Promise<unknown>] }>()
const open = useJob()

type Kind = keyof ControllerWays
interface Row {
  kind: Kind
  info: TableInfo
  revision: number
  own: ControllerWays[Kind]
  isIn: boolean
}
const rows = computed<Row[]>(() => {
  const inside = props.bench.state.value?.ways
  if (!inside) return []
  return open.tables.flatMap((info): Row[] => {
    const { n, way } = info.revisions.at(-1)!
    const kind = way?.asked.kind
    if (!way || !kind || !Object.hasOwn(inside, kind)) return []
    const own = way.settings as ControllerWays[Kind]
    const isIn = JSON.stringify(inside[kind as Kind]) === JSON.stringify(own)
    return [{ kind: kind as Kind, info, revision: n, own, isIn }]
  })
})
/** Numbers of one way in a few words. */
function inWords(settings: ControllerWays[Kind]): string {
  if ('kPa' in settings) return `${plain(settings.kPa, 0)} kPa`
  if ('pct' in settings) return `${signed(settings.pct)} %`
  if ('edges' in settings) return `${settings.values.map((one) => signed(one)).join(' / ')} %`
  if ('low' in settings) return `${settings.rpm.length} speeds, two strips`
  return `${settings.rpm.length} × ${settings.load.length} points`
}
const insideOf = (kind: Kind) => inWords(props.bench.state.value!.ways![kind])
</script>

<template>
  <ul v-if="rows.length" aria-label="Ways in the controller">
    <li v-for="row in rows" :key="row.kind">
      <strong>{{ nameOfWay(row.kind) }}</strong>
      <p class="soft">
        {{
          row.isIn
            ? `The same as revision ${row.revision}: ${inWords(row.own)}.`
            : `Revision ${row.revision} says ${inWords(row.own)}; the controller has ${insideOf(row.kind)}.`
        }}
      </p>
      <ElButton
        size="small"
        type="primary"
        :disabled="row.isIn"
        :loading="working"
        @click="emit('write', () => bench.writeWay(row.kind, row.own))"
        >Write {{ nameOfWay(row.kind).toLowerCase() }} to bench</ElButton
      >
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
}
li {
  display: grid;
  gap: 4px;
  justify-items: start;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}
</style>
