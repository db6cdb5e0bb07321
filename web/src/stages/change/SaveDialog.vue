<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'

/** Asks why a table was changed, before it becomes a revision. */
defineProps<{ next: number; parent: number; edited: number; busy: boolean }>()
const emit = defineEmits<{ save: [] }>()
const saving = defineModel<boolean>({ required: true })
const reason = defineModel<string>('reason', { required: true })
</script>

<template>
  <ElDialog v-model="saving" :title="`Save revision ${next}`" width="480px" align-center append-to-body>
    <form @submit.prevent="emit('save')">
      <label>Why was it changed? <ElInput v-model="reason" maxlength="500" aria-label="Reason" autofocus /></label>
      <p class="soft">{{ edited }} cells differ from revision {{ parent }}.</p>
      <div class="dialog-acts">
        <ElButton @click="saving = false">Cancel</ElButton>
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!reason.trim()"
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
.dialog-acts {
  display: flex;
  justify-content: flex-end;
}
</style>
