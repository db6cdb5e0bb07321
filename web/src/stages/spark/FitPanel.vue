<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink } from 'vue-router'
import { leastWithin, stopName, torqueAt, type JudgedBin } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { useDisplay } from '@/stores/display'
import { grouped, plain, signed } from '@/parts/numbers/format'
import NumberBox from '@/parts/numbers/NumberBox.vue'
import type { Spark } from './useSpark'

/** One point explained: what was read, what it comes to, and the sums behind it. */
const props = defineProps<{ spark: Spark; one: JudgedBin | null }>()
const open = useJob()
const display = useDisplay()
const { settings, choose } = props.spark

const sums = computed(() => {
  const { one } = props
  const { best, curve, recommended } = one?.fit ?? {}
  if (!one || !curve) return []
  const unit = display.torqueUnit
  const spread = {
    sum: `spread of one reading ${plain(display.factorOf('torque') * one.fit.spread, 2)} ${unit}`,
    words: 'torque = best torque less what each degree squared costs; it may cost more on one side',
  }
  if (!best) return [spread]
  const torqueOff = (degrees: number): string =>
    display.figure('torque', torqueAt(curve, best.advance + degrees) - torqueAt(curve, best.advance))
  const peak = {
    sum: `best ${plain(best.advance, 1)}° (${plain(best.low, 1)} to ${plain(best.high, 1)}): 4° later ${torqueOff(-4)}, 4° earlier ${torqueOff(4)} ${unit}`,
    words: '90 of 100 curves that fit the readings have their best in there',
  }
  const cheapest = leastWithin(curve, settings.value.giveAwayPct / 100, best.advance - 20, best.advance)
  const cheap = {
    sum: `least ${plain(cheapest, 1)}°`,
    words: `the least advance within ${plain(settings.value.giveAwayPct, 1)} % of best torque`,
  }
  const said =
    recommended !== null && recommended !== undefined && recommended < cheapest - 0.06
      ? [{ sum: `→ ${plain(recommended, 1)}°`, words: 'held back: knock, or the end of what was tried' }]
      : []
  return [spread, peak, cheap, ...said]
})
</script>

<template>
  <div class="panel">
    <template v-if="one">
      <h3>{{ stopName(one.bin.stop) }} at {{ grouped(one.bin.rpm) }} rpm</h3>
      <p v-if="one.stale" class="stale" role="note">
        Stale: the mixture moved by {{ signed(one.stale.moved) }} % here since. Make these steps again;
        <RouterLink :to="{ name: 'spark', params: { job: open.job!.id, view: 'plan' } }">the plan</RouterLink> has them
        first.
      </p>
      <p>
        <strong>{{ one.fit.note }}</strong>
      </p>
      <p v-if="one.drift === null" class="soft small">
        The first setting was not run again at the end: whether torque drifted with heat is not known.
      </p>
      <dl class="facts figures">
        <dt>readings</dt>
        <dd>{{ one.bin.points.length }} at {{ one.settings }} settings</dd>
        <dt>{{ one.bin.isStatic ? 'setting now' : 'now' }}</dt>
        <dd>{{ plain(one.bin.present, 1) }}°</dd>
        <template v-if="one.fit.best">
          <dt>best torque</dt>
          <dd>
            {{ display.figure('torque', one.fit.best.torque) }} {{ display.torqueUnit }} at
            {{ plain(one.fit.best.advance, 1) }}° ({{ plain(one.fit.best.low, 1) }} to
            {{ plain(one.fit.best.high, 1) }}, 90 %)
          </dd>
        </template>
        <template v-if="one.fit.recommended !== null && !one.stale">
          <dt>advised</dt>
          <dd>{{ plain(one.fit.recommended, 1) }}°</dd>
        </template>
        <template v-if="one.fit.gain && !one.stale">
          <dt>gain over now</dt>
          <dd>
            {{ display.difference('torque', one.fit.gain.value) }} {{ display.torqueUnit }} ({{
              display.difference('torque', one.fit.gain.low)
            }}
            to {{ display.difference('torque', one.fit.gain.high) }})
          </dd>
        </template>
        <template v-if="one.moved">
          <dt>moved since</dt>
          <dd>{{ signed(one.moved) }}° in the table</dd>
        </template>
        <template v-if="one.drift">
          <dt>drift</dt>
          <dd>{{ signed(one.drift.pct) }} % from first to last{{ one.drift.isReal ? ', real' : '' }}</dd>
        </template>
        <template v-if="one.replaced">
          <dt>set aside</dt>
          <dd>{{ one.replaced }} readings from before the mixture moved</dd>
        </template>
        <dt>knock</dt>
        <dd>
          {{
            one.bin.points.some((point) => point.knock) || one.bin.knockFrom !== null
              ? 'seen'
              : one.bin.hasKnockChannel
                ? 'none seen'
                : 'no channel to see it by'
          }}
        </dd>
      </dl>
      <template v-if="sums.length">
        <h3>Arithmetic</h3>
        <ol>
          <li v-for="line in sums" :key="line.sum">
            <span class="figures">{{ line.sum }}</span>
            <span class="soft">{{ line.words }}</span>
          </li>
        </ol>
      </template>
    </template>
    <div class="choices">
      <label
        >Given away for less advance, %
        <NumberBox
          :model-value="settings.giveAwayPct"
          :least="0"
          :most="5"
          :step="0.1"
          name="Torque given away in %"
          @update:model-value="choose({ giveAwayPct: $event })"
      /></label>
      <label
        >Kept from the first knock, °
        <NumberBox
          :model-value="settings.knockMargin"
          :least="0"
          :most="10"
          :step="0.5"
          name="Degrees kept from knock"
          @update:model-value="choose({ knockMargin: $event })"
      /></label>
      <label
        >Level of the knock channel that is knock
        <NumberBox
          :model-value="settings.knockLevel"
          :least="0.01"
          :most="1000000"
          :step="0.1"
          name="Level that counts as knock"
          @update:model-value="choose({ knockLevel: $event })"
      /></label>
    </div>
    <p class="caution">
      Knock breaks pistons in seconds: stop at the first sign, and where torque no longer rises. Never further than what
      was tried. After spark moves, measure the mixture again.
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
.stale,
.stale {
  border-color: var(--lean);
}
ol {
  list-style: none;
  margin: 0;
  padding: 8px;
  background: var(--paper);
  border-radius: 4px;
  display: grid;
  gap: 6px;
}
li {
  display: grid;
  font-size: 13px;
}
.choices {
  display: grid;
  gap: 6px;
}
.choices label {
  display: grid;
  grid-template-columns: 1fr 110px;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
.choices :deep(.number-input) {
  width: 110px;
}
</style>
