<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup } from 'element-plus'
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { useDisplay } from '@/stores/display'
import { useDoubts } from '@/job/doubts'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import { actOf, isTyping } from '@/parts/keys/keymap'
import { counted } from '@/parts/numbers/format'
import DoubtsDialog from '@/parts/intake/DoubtsDialog.vue'
import BenchBadge from './BenchBadge.vue'
import KeysHelp from './KeysHelp.vue'
import StandingBadge from './StandingBadge.vue'

const display = useDisplay()
const open = useJob()
const handling = useHandling()
const doubts = useDoubts()
const helping = ref(false)
const savedWords = computed(
  () =>
    ({
      saved: 'All saved',
      saving: 'Saving …',
      failed: 'Not saved',
      unsaved: [...open.unsaved.values()].join(', '),
    })[open.saving],
)

useEventListener('keydown', (event) => {
  if (actOf('everywhere', event) === 'keys' && !isTyping(event)) helping.value = true
})
</script>

<template>
  <header class="header">
    <RouterLink to="/" class="mark" aria-label="Yuzumix, all jobs">
      <img src="/mark.svg" alt="" width="24" height="24" />
      <span>Yuzumix</span>
    </RouterLink>
    <div v-if="open.job" class="job">
      <strong>{{ open.job.title }}</strong>
      <span v-if="open.set" class="soft" title="Set that is looked at">{{ open.set.name }}</span>
      <span class="saving soft" role="status">{{ savedWords }}</span>
    </div>
    <RouterLink
      v-if="open.job && handling.openCount"
      :to="{ name: 'rig', params: { job: open.job.id } }"
      class="putback"
      :title="`${handling.openCount} changed for the session and not put back`"
      >put back {{ handling.openCount }}</RouterLink
    >
    <button
      v-if="open.job && doubts.list.length"
      type="button"
      class="doubt"
      :title="`${counted(doubts.list.length, 'finding')} about what came in, to be cleared before anything stands on it`"
      @click="doubts.isShown = true"
    >
      {{ doubts.list.length }} in doubt
    </button>
    <DoubtsDialog v-if="open.job" />
    <span class="space" />
    <BenchBadge />
    <StandingBadge />
    <ElRadioGroup v-model="display.unit" size="small" aria-label="Mixture shown as">
      <ElRadioButton value="lambda">λ</ElRadioButton>
      <ElRadioButton value="AFR">AFR</ElRadioButton>
    </ElRadioGroup>
    <ElButton size="small" @click="display.dark = !display.dark">{{ display.dark ? 'Light' : 'Dark' }}</ElButton>
    <ElButton class="keys" size="small" @click="helping = true">Keys ?</ElButton>
    <KeysHelp v-model="helping" />
  </header>
</template>

<style scoped>
.header {
  display: flex;
  align-items: center;
  gap: 12px;
  height: 48px;
  flex: none;
  padding: 0 16px;
  background: var(--panel);
  border-bottom: 1px solid var(--line);
}
.mark {
  display: flex;
  align-items: center;
  gap: 8px;
  font-weight: 700;
  font-size: 17px;
  color: var(--ink);
  text-decoration: none;
}
.job {
  display: flex;
  align-items: baseline;
  gap: 12px;
  min-width: 0;
  padding-left: 12px;
  border-left: 1px solid var(--line);
}
/* Of all that stands here only the job's title may be cut short. */
.header > :not(.job, .space) {
  flex: none;
}
.job > * {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.putback {
  padding: 1px 8px;
  background: var(--yuzu);
  color: #22281f;
  border-radius: 4px;
  font-weight: 700;
  text-decoration: none;
}
.doubt {
  padding: 1px 8px;
  border: 0;
  border-radius: 4px;
  background: var(--alarm);
  color: #fff;
  font: inherit;
  font-weight: 700;
  cursor: pointer;
}
.saving {
  flex: none;
}
@media (max-width: 700px) {
  .header {
    flex-wrap: wrap;
    height: auto;
    padding: 6px 12px;
  }
  /* Nobody presses keys of a phone. */
  .space,
  .keys,
  .mark span {
    display: none;
  }
  .job {
    flex: 1 1 80%;
    flex-wrap: wrap;
    column-gap: 10px;
    border-left: 0;
    padding-left: 0;
  }
}
</style>
