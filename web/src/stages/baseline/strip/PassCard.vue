<script setup lang="ts">
import { markName, type Pass } from '@yuzumix/core'
import { plain, signed } from '@/parts/numbers/format'
import { useDisplay } from '@/stores/display'

/** A pass as a slip: its times, its speeds, and what its gears were. */
defineProps<{ pass: Pass; state: string; chosen: boolean; best: boolean }>()
const emit = defineEmits<{ choose: [] }>()
const display = useDisplay()
</script>

<template>
  <article class="card" :class="{ chosen }">
    <button type="button" class="head" :aria-pressed="chosen" @click="emit('choose')">
      <strong>{{ pass.name }}</strong>
      <span v-if="best" class="badge">quickest</span>
      <span v-if="pass.lifted" class="badge lifted"
        >lifted{{ pass.liftedAtM === null ? '' : ` at ${plain(pass.liftedAtM, 0)} m` }}</span
      >
      <span class="soft state">{{ state }}</span>
    </button>
    <table>
      <thead>
        <tr>
          <th scope="col">Mark</th>
          <th scope="col" class="figures">s</th>
          <th scope="col" class="figures">km/h</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="split in pass.splits" :key="split.distanceM">
          <th scope="row">{{ markName(split.distanceM) }}</th>
          <td class="figures">{{ plain(split.timeS, 3) }}</td>
          <td class="figures">{{ split.speedKmh === null ? '' : plain(split.speedKmh, 1) }}</td>
        </tr>
      </tbody>
    </table>
    <ul v-if="pass.gears.length" class="gears">
      <li v-for="gear in pass.gears" :key="gear.fromS">
        <span>gear {{ gear.gear }}</span>
        <span v-if="gear.lambda !== null" class="figures"
          >{{ display.mixture(gear.lambda) }} {{ display.mixtureUnit }}</span
        >
        <span
          v-if="gear.wantedPct !== null"
          class="figures"
          :class="{ lean: gear.wantedPct > 3, rich: gear.wantedPct < -3 }"
          >{{ signed(gear.wantedPct, 1) }} % {{ gear.wantedPct > 0 ? 'lean' : 'rich' }}</span
        >
        <span v-if="gear.spinPct !== null && gear.spinPct > 3" class="figures"
          >spins {{ plain(gear.spinPct, 0) }} %</span
        >
      </li>
    </ul>
    <p class="soft foot">
      <template v-if="pass.densityAltitudeM !== null"
        >density altitude {{ plain(pass.densityAltitudeM, 0) }} m<br
      /></template>
      <template v-else>air not noted<br /></template>
      <template v-if="pass.reactionS !== null">reaction {{ plain(pass.reactionS, 3) }} s, not counted<br /></template>
      {{ pass.note }}
    </p>
  </article>
</template>

<style scoped>
.card {
  display: grid;
  align-content: start;
  gap: 6px;
  padding: 8px 12px 10px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
.card.chosen {
  border-color: var(--yuzu);
  box-shadow: 0 0 0 1px var(--yuzu);
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  align-items: baseline;
  min-height: 44px;
  padding: 4px 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.state {
  flex-basis: 100%;
  font-size: 13px;
}
.badge {
  padding: 0 6px;
  border-radius: 4px;
  background: var(--leaf-soft);
  font-size: 12px;
}
.badge.lifted {
  background: var(--yuzu-soft);
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--soft);
}
th.figures,
td {
  text-align: right;
}
th,
td {
  padding: 2px 0;
}
.gears {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 13px;
}
.gears li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
}
.lean {
  color: var(--lean);
}
.rich {
  color: var(--rich);
}
.foot {
  margin: 0;
  font-size: 12px;
}
</style>
