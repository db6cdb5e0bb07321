<script setup lang="ts">
import { ref } from 'vue'
import type { Proposal, Wanted, WayKind } from '@yuzumix/core'
import { plain, signed } from '@/parts/numbers/format'
import type { WayLine } from './useWays'
import WayMap from './WayMap.vue'
import { minutesWords, numbersInLine, WAY_WORDS, worstWords } from './wayWords'

/** Every way side by side; one of them is open. */
const props = defineProps<{
  lines: readonly WayLine[]
  wanted: Wanted
  dark: boolean
  /** the best change of one part, where the job has a carburettor */
  hasCarburettor: boolean
  parts: Proposal | null
}>()
const chosen = defineModel<WayKind>({ required: true })
const body = ref<HTMLElement>()
/** Opens the way above or below, and goes there. */
function step(by: 1 | -1): void {
  const k = props.lines.findIndex((one) => one.kind === chosen.value) + by
  const next = props.lines[k]
  if (!next) return
  chosen.value = next.kind
  body.value?.querySelectorAll('button')[k]?.focus()
}
</script>

<template>
  <div class="ways">
    <table aria-label="Ways side by side">
      <thead>
        <tr>
          <th scope="col">Way</th>
          <th scope="col" class="number">Typically off by</th>
          <th scope="col">Leanest place</th>
          <th scope="col">Richest place</th>
          <th scope="col" class="number">Within 2 %</th>
          <th scope="col" class="number">By hand</th>
          <th scope="col">Stays wrong</th>
        </tr>
      </thead>
      <tbody ref="body" @keydown.down.prevent="step(1)" @keydown.up.prevent="step(-1)">
        <tr
          v-for="{ kind, told, wants, isIn } in lines"
          :key="kind"
          :class="{ open: kind === chosen }"
          @click="chosen = kind"
        >
          <th scope="row">
            <button type="button" :aria-pressed="kind === chosen" @click.stop="chosen = kind">
              {{ WAY_WORDS[kind].title }}
              <span v-if="isIn" class="in">in</span>
            </button>
            <small class="soft">{{
              told ? numbersInLine(kind, told.settings, wanted.loadAxis) : wants || WAY_WORDS[kind].about
            }}</small>
          </th>
          <template v-if="told">
            <td class="number figures">{{ plain(told.left.rmsPct, 1) }} %</td>
            <td v-for="worst in [told.left.worstLean, told.left.worstRich]" :key="worst.pct">
              <span class="figures">{{ worstWords(worst, wanted.loadAxis).size }}</span>
              <small class="soft">{{ worstWords(worst, wanted.loadAxis).where }}</small>
            </td>
            <td class="number figures">{{ plain(told.left.within2Pct, 0) }} %</td>
            <td class="number figures">{{ minutesWords(told.minutes) }}</td>
            <td>
              <WayMap :wanted="wanted" :residual="told.residualPct" :width="84" :height="30" :dark="dark" />
            </td>
          </template>
          <td v-else colspan="6" class="soft">{{ wants ? '' : 'working out …' }}</td>
        </tr>
        <tr v-if="hasCarburettor">
          <th scope="row">
            <RouterLink :to="{ name: 'change', params: { view: 'carburettor' } }">Carburettor</RouterLink>
            <small class="soft">{{
              parts ? `one part: ${parts.changed.join(', ')}` : 'by its parts: see there'
            }}</small>
          </th>
          <template v-if="parts">
            <td class="number figures">{{ plain(100 * parts.off, 1) }} %</td>
            <td colspan="2">
              <span class="figures">{{ signed(parts.worst.pct) }} %</span>
              <small class="soft">at {{ plain(100 * parts.worst.opening, 0) }} % of the throttle, at worst</small>
            </td>
            <td></td>
            <td class="number figures">{{ minutesWords(parts.minutes) }}</td>
            <td></td>
          </template>
          <td v-else colspan="6"></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.ways {
  flex: none;
  overflow: auto;
  max-height: 62%;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  padding: 3px 8px;
  text-align: left;
  font-weight: 400;
  height: 38px;
  border-bottom: 1px solid var(--line);
  white-space: nowrap;
}
thead th {
  height: 26px;
  color: var(--soft);
  font-size: 12px;
  position: sticky;
  top: 0;
  background: var(--panel);
}
tbody tr:last-child > * {
  border-bottom: 0;
}
tbody tr {
  cursor: pointer;
}
tr.open {
  background: var(--yuzu-soft);
  box-shadow: inset 4px 0 0 var(--yuzu);
}
.number {
  text-align: right;
}
small {
  display: block;
  font-size: 11.5px;
  line-height: 1.2;
  overflow: hidden;
  text-overflow: ellipsis;
  max-width: 230px;
}
button {
  all: unset;
  font-weight: 700;
  cursor: pointer;
}
button:focus-visible {
  outline: 2px solid var(--leaf);
  outline-offset: 2px;
}
@media (max-width: 1199px) {
  th,
  td {
    padding: 3px 6px;
  }
  small {
    max-width: 130px;
  }
  tr > :nth-child(7) {
    display: none;
  }
}
@media (max-width: 700px) {
  tr > :nth-child(n + 4) {
    display: none;
  }
}
.in {
  margin-left: 4px;
  padding: 0 5px;
  border-radius: 3px;
  background: var(--leaf-soft);
  font-weight: 400;
  font-size: 11.5px;
}
</style>
