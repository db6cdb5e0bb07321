<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Entry } from '@yuzumix/core'
import FileButton from '@/parts/choose/FileButton.vue'
import NumberInput from '@/parts/numbers/NumberInput.vue'
import { notifyDone, notifyProblem } from '@/api/notify'
import { api, formOf } from '@/api/client'
import { useHandling } from '@/job/handling'
import { useJob } from '@/job/openJob'
import { shrunk } from './shrunk'

/** A note into the logbook, with a photo where there is one, pinned to rpm and load where that matters. */
const shown = defineModel<boolean>({ required: true })
const props = defineProps<{
  /** what the note begins with */
  told?: string
}>()
const emit = defineEmits<{ added: [entry: Entry] }>()
const open = useJob()
const handling = useHandling()
const text = ref('')
const rpm = ref<number>()
const load = ref<number>()
const run = ref('')
const photo = ref<Blob | null>(null)
const fault = ref('')
const saving = ref(false)
watch(shown, (now) => {
  if (now && props.told && !text.value) text.value = props.told
})
const preview = computed(() => (photo.value ? URL.createObjectURL(photo.value) : ''))
watch(preview, (_now, before) => before && URL.revokeObjectURL(before))
onBeforeUnmount(() => preview.value && URL.revokeObjectURL(preview.value))

async function choose(file: File): Promise<void> {
  ;[photo.value, fault.value] = [null, '']
  try {
    photo.value = await shrunk(file)
  } catch (error) {
    fault.value = (error as Error).message
  }
}
async function save(): Promise<void> {
  if (!text.value.trim() || saving.value) return
  saving.value = true
  try {
    const id = open.job!.id
    const entry = await api.addNote(
      id,
      formOf({
        text: text.value.trim(),
        rpm: rpm.value,
        load: load.value,
        run: run.value,
        photo: photo.value,
      }),
    )
    ;[text.value, run.value, rpm.value, load.value, photo.value, shown.value] = [
      '',
      '',
      undefined,
      undefined,
      null,
      false,
    ]
    notifyDone('The note is in the logbook.')
    emit('added', entry)
    await handling.reload(id)
  } catch (error) {
    notifyProblem(error)
  } finally {
    saving.value = false
  }
}
</script>

<template>
  <ElDialog v-model="shown" title="Note" width="520px" append-to-body>
    <form class="note" @submit.prevent="save">
      <ElInput
        v-model="text"
        type="textarea"
        :rows="3"
        maxlength="5000"
        aria-label="Note"
        autofocus
        @keydown.ctrl.enter="save"
      />
      <div class="where">
        <label>at <NumberInput v-model="rpm" :min="0" :max="30000" size="small" name="rpm of the note" /> rpm</label>
        <label
          >and <NumberInput v-model="load" :min="0" :max="400" size="small" name="Load of the note" /> % or kPa</label
        >
      </div>
      <label v-if="open.runs.length" class="run">
        of a run
        <ElSelect v-model="run" clearable filterable placeholder="none" size="small" aria-label="Run of the note">
          <ElOption v-for="one in open.runs" :key="one.id" :value="one.id" :label="one.name" />
        </ElSelect>
      </label>
      <div class="photo">
        <FileButton name="Photo" accept="image/*" size="small" camera @chosen="choose"
          >Photo of a plug, a gauge, a part</FileButton
        >
        <ElButton v-if="photo" size="small" @click="photo = null">Leave it out</ElButton>
      </div>
      <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
      <img v-if="preview" :src="preview" alt="The photo as it will be kept" />
      <ElButton type="primary" native-type="submit" :disabled="!text.trim()" :loading="saving">Add the note</ElButton>
    </form>
  </ElDialog>
</template>

<style scoped>
.note {
  display: grid;
  gap: 12px;
  justify-items: start;
}
.where {
  display: flex;
  gap: 16px;
}
.photo {
  display: flex;
  gap: 12px;
}
.run {
  width: 100%;
  display: grid;
  gap: 4px;
}
img {
  max-width: 100%;
  max-height: 200px;
}
</style>
