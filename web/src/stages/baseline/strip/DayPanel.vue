<script setup lang="ts">
import { markName, type StripDay } from '@yuzumix/core'
import { plain, signed } from '@/parts/numbers/format'

/** What a day at the strip tells: what to try next, and state against state. */
defineProps<{ day: StripDay }>()
type Difference = NonNullable<StripDay['states'][number]['wantedPct']>
const range = ({ low, high }: Difference, digits: number): string =>
  low === null || high === null ? 'a pass a side' : `${signed(low, digits)} to ${signed(high, digits)}`
</script>

<template>
  <div class="day">
    <template v-if="day.next">
      <h2>Next</h2>
      <p class="next">{{ day.next.said }}</p>
    </template>
    <section v-for="one in day.against" :key="`${one.first} ${one.second}`">
      <h3>{{ one.second }} against {{ one.first }}</h3>
      <p>{{ one.said }}</p>
      <table>
        <thead>
          <tr>
            <th scope="col">Mark</th>
            <th scope="col" class="figures">s</th>
            <th scope="col" class="figures">90 %</th>
            <th scope="col" class="figures">km/h</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="mark in one.marks" :key="mark.distanceM">
            <th scope="row">{{ markName(mark.distanceM) }}</th>
            <td class="figures">{{ signed(mark.timeS.difference, 3) }}</td>
            <td class="figures soft">{{ range(mark.timeS, 3) }}</td>
            <td class="figures">{{ mark.speedKmh ? signed(mark.speedKmh.difference, 1) : '' }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <h3 v-if="day.states.length">States</h3>
    <ul v-if="day.states.length">
      <li v-for="state in day.states" :key="state.set ?? ''">
        {{ state.name }}: {{ state.passes }} {{ state.passes === 1 ? 'pass' : 'passes'
        }}<template v-if="state.main !== null">, main jet {{ plain(state.main, 1) }}</template
        ><template v-if="state.wantedPct"
          >, wide open {{ signed(state.wantedPct.difference, 1) }} %
          {{ state.wantedPct.difference > 0 ? 'lean' : 'rich' }}</template
        >
      </li>
    </ul>
    <p class="caution">{{ day.caution }}</p>
  </div>
</template>

<style scoped>
.next {
  padding: 8px 10px;
  border-left: 4px solid var(--leaf);
  background: var(--leaf-soft);
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
}
.figures {
  text-align: right;
}
ul {
  margin: 0;
  padding-left: 18px;
}
h3 {
  margin: 14px 0 2px;
}
</style>
