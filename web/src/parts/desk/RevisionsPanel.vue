<script setup lang="ts">
import { ElButton } from 'element-plus'
import dayjs from 'dayjs'
import { computed } from 'vue'
import type { TableInfo } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { urls } from '@/api/client'
import FileButton from '@/parts/choose/FileButton.vue'
import { counted } from '@/parts/numbers/format'
import OwnTable from './OwnTable.vue'

const props = defineProps<{ info: TableInfo }>()
const compared = defineModel<[number, number] | null>('compared', { required: true })
const emit = defineEmits<{ back: [n: number]; read: [file: File] }>()

const newestFirst = computed(() => [...props.info.revisions].reverse())
const latest = computed(() => props.info.revisions.at(-1)!.n)
const FORMATS = ['csv', 'json', 'xlsx'] as const
</script>

<template>
  <div class="panel">
    <OwnTable :info="info" />
    <div class="compare">
      <template v-if="compared">
        <span>Difference from</span>
        <ChoiceSelect
          :model-value="compared[0]"
          name="From revision"
          @update:model-value="compared = [$event, compared![1]]"
          :choices="info.revisions.map((one) => ({ value: one.n, label: String(one.n) }))"
        />
        <span>to</span>
        <ChoiceSelect
          :model-value="compared[1]"
          name="To revision"
          @update:model-value="compared = [compared![0], $event]"
          :choices="info.revisions.map((one) => ({ value: one.n, label: String(one.n) }))"
        />
        <ElButton size="small" @click="compared = null">Stop comparing</ElButton>
      </template>
      <ElButton
        v-else
        size="small"
        :disabled="info.revisions.length < 2"
        @click="compared = [Math.max(1, latest - 1), latest]"
        >Compare two revisions</ElButton
      >
      <FileButton name="Table file to read" accept=".csv,.json,.xlsx" size="small" @chosen="emit('read', $event)"
        >Read a file (CSV, JSON, XLSX)</FileButton
      >
    </div>
    <ol>
      <li v-for="revision in newestFirst" :key="revision.n">
        <div class="head">
          <strong class="figures">{{ revision.n }}</strong>
          <span class="figures soft">{{ dayjs(revision.createdAt).format('D MMM YYYY HH:mm') }}</span>
          <span v-if="revision.runs.length" class="soft">from {{ counted(revision.runs.length, 'run') }}</span>
        </div>
        <p>{{ revision.reason }}</p>
        <p v-if="revision.override" class="override">Large step, taken because: {{ revision.override }}</p>
        <div class="acts">
          <a
            v-for="format in FORMATS"
            :key="format"
            :href="urls.revision(info.job, info.id, revision.n, format)"
            :aria-label="`Export revision ${revision.n} as ${format}`"
            >{{ format.toUpperCase() }}</a
          >
          <ElButton v-if="revision.n !== latest" size="small" @click="emit('back', revision.n)"
            >Go back to {{ revision.n }}</ElButton
          >
          <span v-else class="soft">the latest</span>
        </div>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.override {
  color: var(--alarm);
}
.panel,
ol {
  display: grid;
  gap: 12px;
}
.compare {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.compare :deep(.el-select) {
  width: 70px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line);
  overflow-wrap: anywhere;
}
.head,
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>
