<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { NamedStretch, StretchChange } from '@yuzumix/core'
import { plain } from '@/parts/numbers/format'

/** Stretches of a log: chosen, named, split at the cursor, joined. */
const props = defineProps<{
  stretches: readonly NamedStretch[]
  /** s at which the cursor stands */
  at: number | null
  /** @returns whether it was done */
  change: (body: StretchChange) => Promise<boolean>
}>()
const chosen = defineModel<string | null>('chosen', { required: true })
const emit = defineEmits<{ choose: [id: string] }>()
const one = computed(() => props.stretches.find((each) => each.id === chosen.value) ?? null)
const named = ref('')
watch(one, (now) => (named.value = now?.name ?? ''), { immediate: true })

async function split(): Promise<void> {
  if (one.value && props.at !== null && (await props.change({ split: one.value.id, at: props.at }))) chosen.value = null
}
async function join(): Promise<void> {
  const k = props.stretches.findIndex((each) => each.id === one.value?.id)
  const next = props.stretches.slice(k + 1).find((each) => each.kind === one.value?.kind)
  if (one.value && next && (await props.change({ join: [one.value.id, next.id] }))) chosen.value = null
}
const rename = (): unknown =>
  one.value && named.value.trim() && props.change({ id: one.value.id, name: named.value.trim() })
</script>

<template>
  <h2>Stretches</h2>
  <p v-if="stretches.length === 0" class="soft">None found: a throttle is needed to tell them apart.</p>
  <div v-if="one" class="own">
    <ElInput v-model="named" size="small" maxlength="160" aria-label="Name of the stretch" @change="rename" />
    <ElButton size="small" :disabled="at === null || at <= one.from || at >= one.to" @click="split"
      >Split at the cursor</ElButton
    >
    <ElButton size="small" @click="join">Join with the next {{ one.kind }}</ElButton>
  </div>
  <ol v-memo="[stretches, chosen]" class="stretches">
    <li v-for="each in stretches" :key="each.id">
      <button type="button" :aria-pressed="each.id === chosen" @click="emit('choose', each.id)">
        <span>{{ each.name }}</span>
        <span class="figures">{{ plain(each.from, 1) }} to {{ plain(each.to, 1) }} s</span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
h2 {
  margin: 10px 0 4px;
}
.own {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-bottom: 8px;
}
.own :deep(.el-button + .el-button) {
  margin-left: 0;
}
.stretches {
  list-style: none;
  margin: 0;
  padding: 0;
}
.stretches button {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  width: 100%;
  padding: 4px 6px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.stretches button[aria-pressed='true'] {
  background: var(--yuzu-soft);
}
</style>
