<script setup lang="ts">
import { ElButton } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { RouterLink } from 'vue-router'
import type { ShelfMatch } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { withReason } from '@/api/withReason'
import { useJob } from '@/job/openJob'
import { grouped, plain } from '@/parts/numbers/format'

/** What on the shelf is near this job: its start, or a look whether somebody has been in here. */
const open = useJob()
const id = open.job!.id
const matches = shallowRef<ShelfMatch[] | null>(null)
const told = ref<Record<string, string>>({})
onMounted(async () => {
  try {
    matches.value = await api.shelfMatches(id)
  } catch (error) {
    notifyProblem(error)
  }
})

async function start(match: ShelfMatch, mean: boolean): Promise<void> {
  try {
    // A large step against what was measured, or an unproven start, is taken with a reason only.
    const started = await withReason((override) => api.shelfStart(id, { shelf: match.shelf.id, mean, override }))
    if (!started) return
    const { table, set, lost } = started
    if (table) await open.reloadTables()
    else open.putJob(await api.job(id))
    if (set) await open.reloadRuns()
    told.value = {
      ...told.value,
      [match.shelf.id]: lost.length ? `Taken; ${lost.join('; ')}.` : 'Taken, cell by cell.',
    }
    notifyDone(
      `"${match.shelf.name}" is the start of ${open.tables.find((one) => one.id === table)?.name ?? (table ? 'the table' : 'the carburettors')}.`,
    )
  } catch (error) {
    notifyProblem(error)
  }
}
const ownTable = ({ shelf }: ShelfMatch) => open.tables.find((one) => one.table.kind === shelf.table?.kind)
async function compare(match: ShelfMatch): Promise<void> {
  const own = ownTable(match)
  if (!own) return
  try {
    const { said } = await api.againstShelf(id, own.id, { shelf: match.shelf.id })
    told.value = { ...told.value, [match.shelf.id]: said }
  } catch (error) {
    notifyProblem(error)
  }
}
const runs = (match: ShelfMatch): string =>
  match.checkRuns.map((one) => `${one.stop} % from ${grouped(one.fromRpm)} to ${grouped(one.toRpm)} rpm`).join('; ')
</script>

<template>
  <div class="panel">
    <p v-if="matches === null" class="soft" role="status">Looking on the shelf …</p>
    <p v-else-if="matches.length === 0">
      Nothing on the shelf is near this machine. Calibrations are kept at Hand-over.
      <RouterLink to="/shelf">The whole shelf</RouterLink>
    </p>
    <article v-for="match in matches ?? []" :key="match.shelf.id">
      <div class="head">
        <strong>{{ match.shelf.name }}</strong>
        <span class="figures">{{ Math.round(100 * match.score) }} % alike</span>
      </div>
      <p class="soft">
        From {{ match.shelf.job
        }}<template v-if="match.shelf.proven.rmsPct !== null"
          >, proven to <span class="figures">{{ plain(match.shelf.proven.rmsPct, 1) }} %</span> over
          {{ match.shelf.proven.runs }} runs</template
        ><template v-else>, proven by no run made on it</template>
      </p>
      <ul>
        <li v-for="one in match.differences" :key="one">{{ one }}</li>
        <li v-if="!match.differences.length">no difference is known</li>
      </ul>
      <p class="soft">Proven or refuted by three check runs: {{ runs(match) }}.</p>
      <p v-if="told[match.shelf.id]" role="status">{{ told[match.shelf.id] }}</p>
      <div class="head">
        <ElButton size="small" type="primary" @click="start(match, false)">Start from this</ElButton>
        <ElButton v-if="match.likes > 1" size="small" @click="start(match, true)"
          >Start from the mean of {{ match.likes }}</ElButton
        >
        <ElButton size="small" :disabled="!ownTable(match)" @click="compare(match)"
          >Has somebody been in here?</ElButton
        >
      </div>
    </article>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 12px;
}
article {
  display: grid;
  gap: 6px;
  padding: 8px 10px;
  border: 1px solid var(--line);
  border-radius: 6px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  justify-content: space-between;
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
