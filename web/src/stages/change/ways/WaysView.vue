<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from 'element-plus'
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { kindOfTable, tableWithWay, type SettingsOf } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import AskMadeOn from '@/parts/desk/AskMadeOn.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import { useDisplay } from '@/stores/display'
import { plain } from '@/parts/numbers/format'
import AnsweredPanel from './AnsweredPanel.vue'
import { USES, useWays } from './useWays'
import WayMap from './WayMap.vue'
import WayPanel from './WayPanel.vue'
import WaysList from './WaysList.vue'

/** One wanted change, and every way to put it in: what each would leave wrong, and where. */
const open = useJob()
const ways = useWays()
const { wanted, isKnown, untold, lines, chosen, judged, settings, problem, busy, slow, progress, use, cylinder } = ways
const display = useDisplay()
const uses = Object.entries(USES).map(([value, label]) => ({ value: value as keyof typeof USES, label }))
const cylinders = computed(() => ways.field.value?.cylinders.map((one) => one.cylinder) ?? [])
const box = ref<HTMLElement>()
const { width, height } = useElementSize(box)
const marks = computed(() => {
  const none = { rpm: [] as readonly number[], load: [] as readonly number[] }
  const now = settings.value
  if (!now) return none
  if (chosen.value === 'coarse') return { ...none, ...(now as SettingsOf['coarse']) }
  if (chosen.value === 'strips') return { rpm: [], load: [(now as SettingsOf['strips']).threshold] }
  if (chosen.value !== 'bands') return none
  const { axis, edges } = now as SettingsOf['bands']
  return { ...none, [axis]: edges }
})
/** How well the wanted change itself is known: half of its interval, typically. */
const doubt = computed(() => {
  const one = ways.field.value?.cylinders[0]
  const halves = one?.lowPct.flatMap((cells, row) =>
    cells.flatMap((low, column) => (low === null ? [] : [(one.highPct[row]![column]! - low) / 2])),
  )
  return halves?.length ? Math.sqrt(halves.reduce((sum, half) => sum + half * half, 0) / halves.length) : null
})
/** Tables that ways were put in by. */
const putIn = computed(() => lines.value.flatMap(({ kind }) => tableWithWay(open.tables, kind) ?? []))
const hasFuel = computed(() =>
  open.runs.some((run) => run.channels.some((one) => kindOfTable('fuel trim').toldBy.includes(one.channel))),
)
</script>

<template>
  <StageSplit label="Ways to put the change in" drawer-label="The opened way" :problem="problem">
    <template #bar>
      <slot name="switch" />
      <ElRadioGroup
        v-if="cylinders.length > 1"
        :model-value="cylinder ?? 0"
        size="small"
        aria-label="Change of"
        @update:model-value="cylinder = Number($event) || null"
      >
        <ElRadioButton :value="0">what all need</ElRadioButton>
        <ElRadioButton v-for="one in cylinders" :key="one" :value="one">{{ open.cylinderName(one) }}</ElRadioButton>
      </ElRadioGroup>
      <ChoiceSelect v-model="use" class="use" name="How the range is used" :choices="uses" />
      <span class="soft" role="status">
        <template v-if="busy">Working out … {{ progress > 0 ? `${Math.round(100 * progress)} %` : '' }}</template>
        <template v-else-if="doubt !== null">the change itself is known to ±{{ plain(doubt, 1) }} % typically</template>
        <ElButton v-if="busy && slow" size="small" @click="ways.cancel()">Stop</ElButton>
      </span>
    </template>
    <AskMadeOn v-if="untold.length" :untold="untold[0]!" />
    <template v-else-if="wanted && isKnown">
      <WaysList
        v-model="chosen"
        :lines="lines"
        :wanted="wanted"
        :dark="display.dark"
        :has-carburettor="ways.hasCarburettor.value"
        :parts="ways.parts.value"
      />
      <p class="legend soft">
        What the opened way leaves wrong: <b class="lean">orange lean</b>, <b class="rich">purple rich</b>, %. Judged
        between the cells, too. Dashed: its own places.
      </p>
      <div ref="box" class="map">
        <WayMap
          v-if="judged.told && width > 0"
          large
          :wanted="wanted"
          :residual="judged.told.residualPct"
          :width="width"
          :height="Math.max(120, height)"
          :dark="display.dark"
          :marks="marks"
        />
      </div>
    </template>
    <p v-else class="empty">
      <template v-if="!hasFuel">
        Ways begin with runs that have a mixture: add some at Baseline, or read the gauge by hand there. Then every way
        to put the change in stands here, with what it would leave wrong.
      </template>
      <template v-else-if="wanted">
        Nothing can be put in: of no cell is it known what it needs. What was read is held by a loop, misfires, or did
        not answer to what was changed last. More of the same is no cure; find out why first.
      </template>
      <template v-else>Solving the field that tells what is wanted …</template>
    </p>
    <template #drawer>
      <WayPanel v-if="wanted && isKnown" :ways="ways" />
      <template v-else-if="wanted">
        <AnsweredPanel v-for="one in putIn" :key="one.id" :table="one" named />
      </template>
    </template>
  </StageSplit>
</template>

<style scoped>
.use {
  width: 190px;
}
.map {
  flex: 1;
  min-height: 120px;
  overflow: hidden;
}
.legend {
  font-size: 12px;
}
.lean {
  color: var(--lean);
}
.rich {
  color: var(--rich);
}
.empty {
  max-width: 60ch;
  padding: 24px 0;
}
</style>
