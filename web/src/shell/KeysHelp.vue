<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { computed } from 'vue'
import { useRoute } from 'vue-router'

const shown = defineModel<boolean>({ required: true })
const route = useRoute()

const EVERYWHERE = [
  ['Alt-1 to Alt-8', 'the stages, Brief to Hand-over'],
  ['?', 'the keys of this screen'],
]
const BY_SCREEN: Record<string, string[][]> = {
  mixture: [
    ['arrows', 'move from node to node in the field'],
    ['Home, End', 'first and last rpm of the row'],
    ['[ and ]', 'previous and next run of this throttle stop'],
  ],
  baseline: [
    ['left, right', 'move the hairline over the curves'],
    ['[ and ]', 'previous and next run'],
    ['Enter', 'hand readings: go on to the next cell; on an empty line add them as a run'],
    ['Ctrl-Enter', 'hand readings: add them as a run'],
    ['Ctrl-Backspace', 'hand readings: drop the line'],
  ],
  bench: [
    ['up, down', 'throttle'],
    ['left, right', 'speed that the brake holds'],
    ['Page up, Page down', 'gear'],
    ['i, c, f', 'ignition, fuel, fan'],
    ['r', 'record by hand'],
    ['space, Escape', 'stop what is under way, and the runs that wait'],
    ['b', 'large type, and back'],
  ],
  spark: [['up, down', 'from point to point']],
  change: [
    ['arrows', 'move; with Shift select'],
    ['digits, Enter', 'type a value for the selection'],
    ['Page up, Page down', 'step up and down'],
    ['l', 'straight line between the ends of the selection'],
    ['o', 'even out the selection'],
    ['e', 'extend into neighbours without evidence'],
    ['t', 'hold the rows above flat, equal to the lowest selected'],
    ['a', 'take the suggestion for the selection'],
    ['Ctrl-C, Ctrl-V', 'copy and paste cells, to and from a spreadsheet'],
    ['Ctrl-Z, Ctrl-Y', 'undo, redo'],
    ['Ctrl-S', 'save a revision'],
  ],
}
const keys = computed(() => [...(BY_SCREEN[String(route.name)] ?? []), ...EVERYWHERE])
</script>

<template>
  <ElDialog v-model="shown" title="Keys" width="480px" append-to-body>
    <dl class="keys">
      <template v-for="[key, does] in keys" :key="key">
        <dt class="figures">{{ key }}</dt>
        <dd>{{ does }}</dd>
      </template>
    </dl>
  </ElDialog>
</template>

<style scoped>
.keys {
  display: grid;
  grid-template-columns: 160px 1fr;
  gap: 8px 16px;
  margin: 0;
}
dd {
  margin: 0;
}
</style>
