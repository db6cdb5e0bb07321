<script setup lang="ts">
import { ElAlert, ElButton, ElDialog, ElProgress } from 'element-plus'
import { useJob } from '@/job/openJob'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import MappingTable from './MappingTable.vue'
import SetChoice from './SetChoice.vue'
import { useImport } from './useImport'

/** Files on their way into the open job: what their columns are, which set they go to, and how far they are. */
const files = defineModel<File[]>({ required: true })
const open = useJob()
const {
  phase,
  groups,
  outcomes,
  days,
  rateHz,
  gaugeScale,
  shown,
  faulty,
  missing,
  needsRate,
  showsAfr,
  count,
  ready,
  added,
  add,
  addAll,
  close,
  cancel,
} = useImport(files)
const WORDS = {
  waiting: 'waiting',
  going: 'reading',
  added: 'added',
  same: 'already here',
  failed: 'not added',
  cancelled: 'cancelled',
}
</script>

<template>
  <ElDialog v-model="shown" title="Add runs" width="1040px" align-center append-to-body :close-on-click-modal="false">
    <p v-if="phase === 'reading'" role="status">Reading the first rows …</p>
    <template v-else-if="phase === 'mapping'">
      <ElAlert
        v-for="log in faulty"
        :key="log.file.name"
        type="error"
        :closable="false"
        :title="log.file.name"
        :description="log.fault"
      />
      <section v-for="group in groups" :key="group.signature" class="group">
        <h3>
          {{
            group.files.length === 1
              ? group.files[0]!.name
              : !group.layout
                ? `${group.files.length} packed files, first ${group.files[0]!.name}`
                : `${group.files.length} files with this header, first ${group.files[0]!.name}`
          }}
        </h3>
        <p v-if="!group.layout" class="soft">Packed: each log inside is read by its own header, and told one by one.</p>
        <p v-else class="soft">
          {{ group.remembered ? 'Mapped as you chose last time.' : 'Recognised by header and unit.' }} What is not known
          is kept under its own name. The mapping is remembered for this header.
        </p>
        <MappingTable v-if="group.layout" v-model="group.mapping" :layout="group.layout" />
        <p v-if="missing(group).length" class="needed" role="alert">
          Still needed: {{ missing(group).join(' and ') }}. Choose the column above.
        </p>
      </section>
      <SetChoice v-if="days.length > 1 || open.sets.length" v-model="days" />
      <div class="asks">
        <label v-if="needsRate"
          >No time column. Samples per second
          <NumberInput v-model="rateHz" :min="0.1" :max="10000" size="small" name="Samples per second"
        /></label>
        <label v-if="showsAfr"
          >The gauge shows this AFR at lambda 1
          <NumberInput
            v-model="gaugeScale"
            :min="4"
            :max="20"
            :step="0.1"
            :precision="2"
            size="small"
            name="Gauge scale"
        /></label>
      </div>
    </template>
    <ul v-else class="outcomes">
      <li v-for="one in outcomes" :key="one.file.name">
        <span class="name">{{ one.file.name }}</span>
        <ElProgress
          :percentage="Math.round(one.share * 100)"
          :status="one.state === 'added' ? 'success' : one.state === 'failed' ? 'exception' : ''"
          :aria-label="one.file.name"
        />
        <span :class="one.state">{{ WORDS[one.state] }}</span>
        <ElButton v-if="one.state === 'same' && phase === 'done'" size="small" @click="add([one], true)"
          >Add it again</ElButton
        >
        <p v-if="one.note" class="note">{{ one.note }}</p>
      </li>
    </ul>
    <template #footer>
      <ElButton v-if="phase === 'adding'" @click="cancel()">Cancel</ElButton>
      <template v-else-if="phase === 'mapping'">
        <ElButton @click="close">Cancel</ElButton>
        <ElButton type="primary" :disabled="!ready" @click="addAll"
          >Add {{ count }}
          {{
            groups.some((group) => !group.layout) ? (count === 1 ? 'file' : 'files') : count === 1 ? 'run' : 'runs'
          }}</ElButton
        >
      </template>
      <ElButton v-else-if="phase === 'done'" type="primary" @click="close">{{ added }} added. Close</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.group {
  display: grid;
  gap: 8px;
  margin-top: 12px;
}
.needed {
  color: var(--alarm);
  font-weight: 700;
}
.asks {
  display: flex;
  gap: 24px;
  margin-top: 16px;
}
.outcomes {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 60vh;
  overflow-y: auto;
}
.outcomes li {
  display: grid;
  grid-template-columns: 1fr 260px 100px auto;
  gap: 4px 16px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
}
.note {
  grid-column: 1 / -1;
  color: var(--soft);
}
.failed {
  color: var(--alarm);
  font-weight: 700;
}
</style>
