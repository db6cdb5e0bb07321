<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import { STAGES, type Stage } from './stages'
import { counted } from '@/parts/numbers/format'

const open = useJob()
const handling = useHandling()
const route = useRoute()

/** What is done, or needs attention, in a few words. */
const notes = computed<Partial<Record<Stage['id'], string>>>(() => {
  const revisions = open.fuelTables.reduce((sum, one) => sum + one.revisions.length - 1, 0)
  return {
    brief: open.job?.fuel
      ? handling.complaints.length
        ? counted(handling.complaints.length, 'complaint')
        : ''
      : 'fuel not said',
    rig: handling.openCount ? `${handling.openCount} to put back` : '',
    'hand-over': open.job?.doneAt ? 'handed over' : '',
    baseline: open.runs.length
      ? `${counted(open.runs.length, 'run')}${open.sets.length > 1 ? ` in ${open.sets.length} sets` : ''}`
      : 'no runs yet',
    change: open.job?.jetting
      ? `${open.sets.filter((set) => set.fitting).length} fitted`
      : open.fuelTables.length === 0
        ? 'no fuel table'
        : revisions
          ? `${revisions} saved`
          : '',
  }
})
</script>

<template>
  <nav class="line" aria-label="Stages">
    <RouterLink
      v-for="(stage, k) in STAGES"
      :key="stage.id"
      :to="{ name: stage.id, params: { job: route.params['job'] } }"
      class="stage"
      :class="{ unbuilt: !stage.view }"
      :title="`${stage.about} Alt-${k + 1}`"
      active-class="here"
    >
      <span class="figures number">{{ k + 1 }}</span>
      <span class="title">{{ stage.title }}</span>
      <span class="note">{{ notes[stage.id] }}</span>
    </RouterLink>
  </nav>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: repeat(8, 1fr);
  min-height: 44px;
  flex: none;
  background: var(--panel);
  border-bottom: 1px solid var(--line);
}
.stage {
  display: grid;
  grid-template-columns: auto 1fr;
  column-gap: 8px;
  align-content: center;
  padding: 0 12px;
  line-height: 1.2;
  color: var(--ink);
  text-decoration: none;
  border-left: 1px solid var(--line);
  border-bottom: 3px solid transparent;
  overflow: hidden;
  white-space: nowrap;
}
@media (pointer: coarse) {
  .stage {
    min-height: 44px;
  }
}
@media (max-width: 700px) {
  .line {
    grid-template-columns: repeat(4, 1fr);
    height: auto;
  }
  .stage {
    min-height: 44px;
    padding: 0 6px;
    column-gap: 5px;
  }
  .note {
    display: none;
  }
  .title {
    font-size: 14px;
  }
}
.number {
  grid-row: span 2;
  align-self: center;
  color: var(--soft);
}
.note {
  font-size: 12px;
  color: var(--soft);
}
.note:empty {
  display: none;
}
.unbuilt .title {
  color: var(--soft);
}
.here {
  border-bottom-color: var(--yuzu);
  background: var(--paper);
}
.here .title {
  font-weight: 700;
}
</style>
