<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { cautionWords, commandedWords, LOAD_UNITS, tableWithWay } from '@yuzumix/core'
import { urls } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'
import { useDisplay } from '@/stores/display'
import { plain } from '@/parts/numbers/format'
import AnsweredPanel from './AnsweredPanel.vue'
import CylinderPanel from './CylinderPanel.vue'
import type { Ways } from './useWays'
import WayFields from './WayFields.vue'
import WayNumbers from './WayNumbers.vue'
import WayPoints from './WayPoints.vue'
import { WAY_WORDS, worstWords } from './wayWords'

/** The opened way: what it is asked with, its numbers, what they leave, and putting it in. */
const props = defineProps<{ ways: Ways }>()
const open = useJob()
const display = useDisplay()
const { chosen, line, judged, wanted, isOwn } = props.ways
const axis = computed(() => wanted.value!.loadAxis)
const unit = computed(() => LOAD_UNITS[axis.value])
const told = computed(() => judged.value.told)
const unlike = computed(() => props.ways.field.value?.commandedUnlike ?? null)
const standing = computed(() => tableWithWay(open.tables, chosen.value))
/** Why it cannot be put in; empty where it can. */
const cannot = computed(() => {
  const way = line.value.way
  if (judged.value.fault) return judged.value.fault
  if (!way || !told.value) return line.value.wants
  if (chosen.value === 'table' || chosen.value === 'injectors')
    return 'table' in way && way.table ? '' : 'Name the table that takes it.'
  return told.value.cautions.some((one) => one.code === 'pump') ? 'The pump does not hold it.' : ''
})
const taking = ref(false)
async function take(): Promise<void> {
  taking.value = true
  try {
    if (await props.ways.take()) notifyDone(`${WAY_WORDS[chosen.value].title}: put in, and kept with the job.`)
  } catch (error) {
    notifyProblem(error)
  } finally {
    taking.value = false
  }
}
const exportsOf = computed(() => {
  const table = standing.value
  if (!table) return null
  const { n } = table.revisions.at(-1)!
  const urlOf = (format: 'csv' | 'json' | 'sheet') => urls.revision(open.job!.id, table.id, n, format)
  return { n, csv: urlOf('csv'), json: urlOf('json'), sheet: urlOf('sheet') }
})
</script>

<template>
  <h2>{{ WAY_WORDS[chosen].title }}</h2>
  <p class="soft">{{ WAY_WORDS[chosen].about }}</p>
  <WayFields :ways="ways" />
  <p v-if="line.wants" class="soft">{{ line.wants }}</p>
  <p v-if="judged.fault" class="problem" role="alert">{{ judged.fault }}</p>
  <template v-if="told">
    <p class="left" role="status">
      Typically off by <b class="figures">{{ plain(told.left.rmsPct, 2) }} %</b>, at worst
      <b class="figures">{{ worstWords(told.left.worstLean, axis).size }}</b> at
      {{ worstWords(told.left.worstLean, axis).where }}.
      <template v-if="told.free">
        Without keeping full load from running lean:
        <span class="figures">{{ plain(told.free.left.rmsPct, 2) }} %</span>, at worst
        <span class="figures">{{ worstWords(told.free.left.worstLean, axis).size }}</span>.
      </template>
    </p>
    <p v-if="chosen === 'filling' && unlike" class="caution">{{ commandedWords(unlike, unit, display.mixture) }}</p>
    <p v-for="caution in told.cautions" :key="caution.code" class="caution">{{ cautionWords(caution, unit) }}</p>
    <WayNumbers :ways="ways" />
    <CylinderPanel v-if="chosen === 'table'" :ways="ways" />
    <WayPoints v-if="told.points && !isOwn" :points="told.points" :cost="told.left.costPct" :unit="unit" />
    <ElButton v-if="isOwn" size="small" @click="ways.set(null)">Back to what was worked out</ElButton>
    <div class="take">
      <ElButton type="primary" :disabled="cannot !== ''" :loading="taking" @click="take">{{
        chosen === 'table' || chosen === 'filling'
          ? 'Save as the next revision'
          : standing
            ? 'Put these numbers in instead'
            : 'Put this way in'
      }}</ElButton>
      <span v-if="cannot" class="soft">{{ cannot }}</span>
    </div>
  </template>
  <AnsweredPanel v-if="standing" :key="standing.id" :table="standing" />
  <p v-if="exportsOf" class="soft">
    In since revision {{ exportsOf.n }} of “{{ standing!.name }}”:
    <a :href="exportsOf.sheet" download>settings sheet</a>, <a :href="exportsOf.csv" download>CSV</a>,
    <a :href="exportsOf.json" download>JSON</a>
  </p>
</template>

<style scoped>
h2 {
  margin-top: 10px;
}
p {
  margin: 6px 0;
}
.left {
  font-size: 14px;
}
.problem {
  padding: 8px 12px;
  border-left: 4px solid var(--alarm);
}
.take {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 12px 0;
}
</style>
