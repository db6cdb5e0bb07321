<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, useTemplateRef, watch } from 'vue'
import type { NewPass } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import StageSplit from '@/parts/frame/StageSplit.vue'
import ViewSwitch from '@/stages/baseline/ViewSwitch.vue'
import DayPanel from './DayPanel.vue'
import PassCard from './PassCard.vue'
import SlipForm from './SlipForm.vue'
import { useStrip } from './useStrip'

/** Passes at the strip as cards, found in a log or typed from a slip, and what they tell. */
const open = useJob()
const { passes, day, busy, problem, add, drop, change, runs } = useStrip()
const chosen = ref<string | null>(null)
const one = computed(() => passes.value.find((each) => each.id === chosen.value) ?? null)
const typing = ref(false)
const form = useTemplateRef('form')
const [name, note] = [ref(''), ref('')]
watch(one, (now) => ([name.value, note.value] = [now?.name ?? '', now?.note ?? '']))

const from = ref<string | null>(null)
const run = computed(() => runs.value.find((each) => each.id === from.value) ?? runs.value.at(-1) ?? null)
const stateOf = (set: string | null): string => open.sets.find((each) => each.id === set)?.name ?? 'No state named'
/** The quickest of those that were ridden to the same end. */
const quickest = computed(() => {
  const whole = passes.value.filter((each) => !each.lifted && each.splits.length)
  const end = Math.max(0, ...whole.map((each) => each.splits.at(-1)!.distanceM))
  const timed = whole.filter((each) => each.splits.at(-1)!.distanceM === end)
  return timed.length > 1
    ? timed.reduce((best, each) => (each.splits.at(-1)!.timeS < best.splits.at(-1)!.timeS ? each : best)).id
    : null
})
async function keepSlip(pass: NewPass): Promise<void> {
  const kept = await add({ ...pass, ...(open.set && { set: open.set.id }) })
  if (!kept) return
  form.value?.clear()
  typing.value = false
}
</script>

<template>
  <StageSplit label="Passes at the strip" drawer-label="What they tell" :problem="problem">
    <template #bar>
      <ViewSwitch />
      <template v-if="run">
        <ChoiceSelect
          class="run"
          name="Log with passes"
          :model-value="run.id"
          :choices="runs.map((each) => ({ value: each.id, label: each.name }))"
          @update:model-value="from = $event"
        />
        <ElButton size="small" :loading="busy" @click="add({ run: run.id })">Find its passes</ElButton>
      </template>
      <ElButton size="small" type="primary" :aria-expanded="typing" @click="typing = !typing">Type a slip</ElButton>
    </template>
    <SlipForm v-if="typing" ref="form" class="typed" :busy="busy" @add="keepSlip" />
    <div v-if="passes.length" class="cards">
      <PassCard
        v-for="pass in passes"
        :key="pass.id"
        :pass="pass"
        :state="stateOf(pass.set)"
        :chosen="pass.id === chosen"
        :best="pass.id === quickest"
        @choose="chosen = chosen === pass.id ? null : pass.id"
      />
    </div>
    <p v-else-if="!typing" class="soft empty">
      {{ busy ? 'Looking …' : 'No pass yet. Find them in a log that has the road speed, or type the slip of one.' }}
    </p>
    <template #drawer>
      <section v-if="one" class="own" aria-label="The pass that is chosen">
        <h2>{{ one.name }}</h2>
        <label
          >Name
          <ElInput
            v-model="name"
            size="small"
            maxlength="120"
            aria-label="Name of the chosen pass"
            @change="name.trim() && change(one, { name: name.trim() })"
        /></label>
        <label
          >Made in
          <ChoiceSelect
            name="State of the machine"
            :model-value="one.set"
            :choices="open.sets.map((each) => ({ value: each.id, label: each.name }))"
            @update:model-value="change(one, { set: $event })"
        /></label>
        <label
          >Note
          <ElInput
            v-model="note"
            size="small"
            maxlength="400"
            aria-label="Note on the chosen pass"
            @change="change(one, { note: note.trim() })"
        /></label>
        <div class="acts">
          <ElButton size="small" @click="change(one, { lifted: !one.lifted })">{{
            one.lifted ? 'It was ridden through' : 'It was lifted'
          }}</ElButton>
          <ElButton size="small" @click="drop(one)">Take back</ElButton>
        </div>
        <p v-if="one.run !== null" class="soft">
          From where it stood; the clock starts after {{ one.rolloutM.toFixed(3) }} m of rollout; speeds over the last
          {{ one.trapM.toFixed(1) }} m.
        </p>
      </section>
      <DayPanel v-if="day && passes.length" :day="day" />
      <div v-else>
        <h2>A day at the strip</h2>
        <p>
          A pass is a card: its times, the air it was made in, and what was fitted. Two passes a state tell how far they
          scatter; only then a jet is judged.
        </p>
      </div>
    </template>
  </StageSplit>
</template>

<style scoped>
.run {
  flex: 1 1 140px;
  min-width: 110px;
  max-width: 220px;
}
.cards {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  align-content: start;
  gap: 8px;
}
.typed {
  max-width: 460px;
  padding: 8px 12px;
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
}
.empty {
  padding: 24px 0;
}
.own {
  display: grid;
  gap: 6px;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line);
}
.own label {
  display: grid;
  gap: 2px;
  font-size: 13px;
  color: var(--soft);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.acts :deep(.el-button + .el-button) {
  margin-left: 0;
}
@media (max-width: 700px) {
  .cards {
    overflow-y: visible;
  }
  .run {
    width: 100%;
  }
}
</style>
