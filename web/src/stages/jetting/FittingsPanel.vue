<script setup lang="ts">
import { ElButton } from 'element-plus'
import dayjs from 'dayjs'
import { computed, ref } from 'vue'
import { notifyDone, notifyProblem } from '@/api/notify'
import { counted, grouped, plain } from '@/parts/numbers/format'
import { fittedText, type FittingSet } from '@yuzumix/core'
import type { Jetting } from './useJetting'

/** What was fitted when, with weather and result. */
const props = defineProps<{ jetting: Jetting }>()
const { fittings, present, readings, carburettor, settings, targets } = props.jetting
const working = ref(false)
const lines = computed(() =>
  fittings.value
    .map((set, k) => ({
      set,
      text: fittedText(
        set.fitting.fitted[carburettor.value] ?? {},
        fittings.value[k - 1]?.fitting.fitted[carburettor.value] ?? null,
        settings.value.body.kind,
      ),
      off: offOf(set),
    }))
    .reverse(),
)
/** Departure of what was read from its targets, RMS in %. */
function offOf(set: FittingSet): number | null {
  const rows = readings.value.get(set.id)?.[carburettor.value] ?? []
  if (rows.length === 0) return null
  const offs = rows.map((row) => {
    const target = targets.value.find((one) => row.opening >= one.from && row.opening < one.to) ?? targets.value.at(-1)!
    return Math.log(row.lambda / target.lambda)
  })
  return 100 * Math.sqrt(offs.reduce((sum, one) => sum + one * one, 0) / offs.length)
}
async function revert(set: FittingSet, n: number): Promise<void> {
  working.value = true
  try {
    await props.jetting.fit(set.fitting.fitted, `Back to fitting ${n}`, null, present.value?.weather ?? null)
    notifyDone(`Fitted again as in fitting ${n}.`)
  } catch (error) {
    notifyProblem(error)
  } finally {
    working.value = false
  }
}
</script>

<template>
  <div class="panel">
    <h3>What was fitted when</h3>
    <p v-if="lines.length === 0" class="soft">Nothing is recorded yet.</p>
    <ol v-else reversed>
      <li v-for="(line, k) in lines" :key="line.set.id">
        <strong>{{ line.text || 'as before' }}</strong>
        <span class="soft figures"
          >{{ dayjs(line.set.createdAt).format('D MMM YYYY, HH:mm') }}; {{ counted(line.set.runCount, 'run')
          }}{{
            line.set.weather
              ? `; ${plain(line.set.weather.temperatureC, 0)} °C, ${grouped(10 * line.set.weather.pressureKpa)} hPa`
              : ''
          }}</span
        >
        <span v-if="line.set.fitting.reason" class="soft">{{ line.set.fitting.reason }}</span>
        <span class="figures">{{ line.off === null ? 'not read' : `${plain(line.off, 1)} % off target, RMS` }}</span>
        <ElButton
          v-if="k > 0"
          size="small"
          :loading="working"
          :aria-label="`Back to fitting ${lines.length - k}`"
          @click="revert(line.set, lines.length - k)"
          >Back to this</ElButton
        >
      </li>
    </ol>
  </div>
</template>

<style scoped>
ol {
  margin: 0;
  padding-left: 28px;
}
li {
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
li > * {
  display: block;
}
</style>
