<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { DUE, USUAL_PUT_BACKS, type Entry, type NewPutBack, type PutBack } from '@yuzumix/core'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { urls } from '@/api/client'
import { useJob } from '@/job/openJob'
import NoteDialog from '@/parts/logbook/NoteDialog.vue'
import { useHandling } from '@/job/handling'

/** What was changed only for the session, until each is back, or left so with somebody told. */
const open = useJob()
const handling = useHandling()
const blank = (): NewPutBack => ({ what: '', was: '', now: '', due: 'hand-over' })
const next = ref<NewPutBack>(blank())
const telling = ref('')
const told = ref('')
/** Line whose photo is being taken. */
const photographed = ref<PutBack | null>(null)
const photographing = computed({
  get: () => photographed.value !== null,
  set: (shown) => {
    if (!shown) photographed.value = null
  },
})
const ordered = computed(() => [...handling.putBack].sort((a, b) => Number(isSettled(a)) - Number(isSettled(b))))
const isSettled = ({ back, leftSo }: PutBack): boolean => back || leftSo
const seeds = computed(() => USUAL_PUT_BACKS.filter((one) => !handling.putBack.some(({ what }) => what === one.what)))
function takeSeed(what: string): void {
  const seed = USUAL_PUT_BACKS.find((one) => one.what === what)
  if (seed) next.value = { ...seed }
}
async function add(): Promise<void> {
  const { what, was, now } = next.value
  if (!what.trim() || !was.trim() || !now.trim()) return
  if (await handling.note(next.value)) next.value = blank()
}
async function takePhoto({ id, photo }: Entry): Promise<void> {
  if (photo !== null && photographed.value) await handling.settle(photographed.value.id, { photo: id })
}
async function leaveSo(line: PutBack): Promise<void> {
  if (!told.value.trim()) return
  if (await handling.settle(line.id, { leftSo: true, told: told.value.trim() })) [telling.value, told.value] = ['', '']
}
</script>

<template>
  <div class="panel">
    <h2>Put back <span class="figures">{{ handling.openCount }} open</span></h2>
    <form @submit.prevent="add">
      <ElSelect
        :model-value="next.what"
        filterable
        allow-create
        default-first-option
        placeholder="What was changed for the session?"
        aria-label="What was changed for the session"
        @update:model-value="((next.what = $event), takeSeed($event))"
      >
        <ElOption v-for="one in seeds" :key="one.what" :value="one.what" :label="one.what" />
      </ElSelect>
      <div class="two">
        <ElInput v-model="next.was" maxlength="160" aria-label="What it was" placeholder="what it was" />
        <ElInput v-model="next.now" maxlength="160" aria-label="What it is now" placeholder="what it is now" />
      </div>
      <div class="two">
        <ChoiceSelect
          size="default"
          v-model="next.due"
          name="Must be back before"
          :choices="DUE.map((one) => ({ value: one, label: `back before ${one}` }))"
        />
        <ElButton type="primary" native-type="submit">Note it</ElButton>
      </div>
    </form>
    <p v-if="!handling.putBack.length" class="soft">Nothing is changed for the session yet.</p>
    <ul>
      <li v-for="line in ordered" :key="line.id" :class="{ settled: isSettled(line) }">
        <div>
          <strong>{{ line.what }}</strong> was {{ line.was }}, now {{ line.now }}
          <span class="soft">before {{ line.due }}{{ line.automatic ? ', noted by itself' : '' }}</span>
          <a v-if="line.photo" :href="urls.photo(open.job!.id, line.photo)" target="_blank">
            <img :src="urls.photo(open.job!.id, line.photo)" :alt="`Photo: ${line.what} as it was`" loading="lazy" />
          </a>
          <p v-if="line.leftSo" class="soft">left so, told {{ line.told }}</p>
          <p v-else-if="line.back" class="soft">back</p>
        </div>
        <div v-if="!isSettled(line)" class="acts">
          <ElButton size="small" @click="handling.settle(line.id, { back: true })">It is back</ElButton>
          <ElButton size="small" :aria-label="`Photo of how it was: ${line.what}`" @click="photographed = line"
            >Photo</ElButton
          >
          <ElButton size="small" @click="telling = telling === line.id ? '' : line.id">Left so</ElButton>
        </div>
        <ElButton v-else size="small" @click="handling.settle(line.id, { back: false, leftSo: false })"
          >Open again</ElButton
        >
        <form v-if="telling === line.id" class="two wide" @submit.prevent="leaveSo(line)">
          <ElInput v-model="told" size="small" maxlength="160" aria-label="Who was told" placeholder="who was told?" />
          <ElButton size="small" native-type="submit">Left so, told</ElButton>
        </form>
      </li>
    </ul>
    <NoteDialog
      v-model="photographing"
      :told="photographed ? `${photographed.what}: was ${photographed.was}` : ''"
      @added="takePhoto"
    />
  </div>
</template>

<style scoped>
.panel,
form {
  display: grid;
  gap: 8px;
}
.panel {
  padding-top: 12px;
  justify-items: stretch;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.wide {
  grid-column: 1 / -1;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  padding: 8px;
  border: 1px solid var(--line);
  border-left: 4px solid var(--yuzu);
  border-radius: 6px;
  overflow-wrap: anywhere;
}
img {
  display: block;
  max-width: 160px;
  max-height: 100px;
  margin-top: 4px;
}
.settled {
  border-left-color: var(--line);
}
.acts {
  display: grid;
  gap: 4px;
}
.acts :deep(.el-button + .el-button) {
  margin-left: 0;
}
</style>
