<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { counted } from '@/parts/numbers/format'

/** Asks why a table was changed, before it becomes a revision. */
defineProps<{
  next: number
  parent: number
  edited: number
  busy: boolean
  /** what is too far in it, in words; null while that is being asked */
  large: string | null
}>()
const emit = defineEmits<{ save: [] }>()
const saving = defineModel<boolean>({ required: true })
const reason = defineModel<string>('reason', { required: true })
const override = defineModel<string>('override', { required: true })
</script>

<template>
  <ElDialog v-model="saving" :title="`Save revision ${next}`" width="480px" align-center append-to-body>
    <form @submit.prevent="emit('save')">
      <label>Why was it changed? <ElInput v-model="reason" maxlength="500" aria-label="Reason" autofocus /></label>
      <p class="soft">
        {{ counted(edited, 'cell') }} {{ edited === 1 ? 'differs' : 'differ' }} from revision {{ parent }}.
      </p>
      <div v-if="large" class="large" role="alert">
        <p>{{ large }}</p>
        <label
          >Why must it be, this once?
          <ElInput v-model="override" maxlength="500" aria-label="Why the large step is taken" />
        </label>
        <p class="soft">It is kept with the revision and in the logbook.</p>
      </div>
      <div class="dialog-acts">
        <ElButton @click="saving = false">Cancel</ElButton>
        <ElButton
          type="primary"
          native-type="submit"
          :loading="busy"
          :disabled="!reason.trim() || large === null || (large !== '' && !override.trim())"
          >Save revision {{ next }}</ElButton
        >
      </div>
    </form>
  </ElDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
}
.large {
  display: grid;
  gap: 8px;
  padding: 10px;
  border-left: 4px solid var(--alarm);
  background: var(--yuzu-soft);
}
.dialog-acts {
  display: flex;
  justify-content: flex-end;
}
</style>
