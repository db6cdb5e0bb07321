<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '@/api/client'

/** The door for who comes from beyond the workshop's machine: by the passphrase, or by a code in the address. */
const route = useRoute()
const router = useRouter()
const passphrase = ref('')
const problem = ref('')
const busy = ref(false)
const hasPassphrase = ref(true)

async function comeIn(work: () => Promise<unknown>): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    await work()
    const to = route.query['to']
    await router.replace(typeof to === 'string' && to.startsWith('/') && !to.startsWith('//') ? to : '/')
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
const enter = (): Promise<void> => comeIn(() => api.enter({ passphrase: passphrase.value }))

onMounted(async () => {
  const code = route.name === 'join' ? route.hash.slice(1) : ''
  if (code) return comeIn(() => api.join({ code }))
  const access = await api.access().catch(() => null)
  hasPassphrase.value = access?.hasPassphrase ?? true
  if (access?.role) await router.replace('/')
})
</script>

<template>
  <main class="enter">
    <h1>Come in</h1>
    <p v-if="busy" role="status">One moment …</p>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <p v-if="!hasPassphrase">
      No passphrase is set yet. Open Sharing at the workshop's own machine and set one, or have a code shown there.
    </p>
    <form v-else @submit.prevent="enter">
      <label for="passphrase">Passphrase of this workshop</label>
      <ElInput
        id="passphrase"
        v-model="passphrase"
        type="password"
        show-password
        autocomplete="current-password"
        size="large"
      />
      <ElButton native-type="submit" type="primary" size="large" :disabled="busy || !passphrase">Come in</ElButton>
    </form>
    <p class="soft">Or have a code shown at the workshop's machine (Jobs, Sharing) and open it with this device.</p>
  </main>
</template>

<style scoped>
.enter {
  flex: 1;
  overflow-y: auto;
  padding: 24px 16px;
  display: grid;
  gap: 16px;
  align-content: start;
  justify-self: center;
  width: min(420px, 100%);
  margin: 0 auto;
}
form {
  display: grid;
  gap: 8px;
}
form :deep(.el-button),
form :deep(.el-input) {
  min-height: 44px;
}
</style>
