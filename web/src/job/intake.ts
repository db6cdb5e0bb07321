import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

/** Files on their way into the open job: they go on wherever one looks meanwhile. */
export const useIntake = defineStore('intake', () => {
  /** chosen, and not yet dealt with; empty for none */
  const files = shallowRef<File[]>([])
  return { files }
})
