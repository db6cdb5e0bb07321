<script setup lang="ts">
import { computed } from 'vue'
import { answeredQuestion, answeredWords, type TableInfo } from '@yuzumix/core'
import { useJob } from '@/job/openJob'
import { loader } from '@/job/loader'
import { useQuestion } from '@/job/useQuestion'
import { useAnswer } from '@/workers/useAnswer'

/** Whether the mixture answered to what was put in by a way; nothing before runs of both states are there. */
const props = defineProps<{
  table: TableInfo
  /** say which table it is */
  named?: boolean
}>()
const open = useJob()
const { question } = useQuestion(
  (ground) => answeredQuestion(ground, loader, { table: props.table.id }),
  () => [props.table.id, props.table.revisions.length],
)
const { answer, problem } = useAnswer(
  () => open.job!.id,
  'answered',
  computed(() => question.value ?? null),
)
const sentences = computed(() =>
  answer.value && question.value ? answeredWords(answer.value, question.value.kind) : [],
)
const isWell = computed(() => answer.value?.verdict === 'as explained' && answer.value.steadiness?.isWorse !== true)
</script>

<template>
  <section v-if="question" class="answered" aria-label="Did it answer?">
    <h3>{{ named ? `Since “${table.name}” was put in` : 'Since it was put in' }}</h3>
    <p v-if="problem" class="soft">{{ problem }}</p>
    <p v-for="sentence in sentences" :key="sentence" :class="{ caution: !isWell }">{{ sentence }}</p>
  </section>
</template>

<style scoped>
.answered {
  margin: 10px 0;
}
h3 {
  font-size: 14px;
  margin: 0 0 4px;
}
p {
  margin: 4px 0;
}
</style>
