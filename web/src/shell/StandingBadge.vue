<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { AccessState } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'

/** On a device beyond the workshop's machine: as what it was let in, and the way out. */
const DOORS = ['enter', 'join']
const route = useRoute()
const router = useRouter()
const access = ref<AccessState | null>(null)
const isAtDoor = (): boolean => DOORS.includes(String(route.name))

watch(
  isAtDoor,
  async (atDoor) => {
    access.value = atDoor ? null : await api.access().catch(() => null)
  },
  { immediate: true },
)
async function leave(): Promise<void> {
  try {
    await api.leave({})
    await router.push('/enter')
  } catch (error) {
    notifyProblem(error)
  }
}
</script>

<template>
  <template v-if="access?.role && !access.here">
    <strong v-if="access.role === 'watch'" title="Nothing is set or stored from this device">Watching only</strong>
    <ElButton size="small" @click="leave">Leave</ElButton>
  </template>
</template>
