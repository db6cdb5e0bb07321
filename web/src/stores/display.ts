import { useDark, useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { afrShown, USUAL_GAUGE_SCALE } from '@yuzumix/core'
import { signed, plain } from '@/parts/numbers/format'

/** How things are shown: mixture as lambda or AFR, light or dark. Kept in this browser. */
export const useDisplay = defineStore('display', () => {
  const unit = useStorage<'lambda' | 'AFR'>('yuzumix.mixtureUnit', 'lambda')
  // Stopping transitions would take an inline style, which the content policy refuses.
  const dark = useDark({ storageKey: 'yuzumix.theme', disableTransition: false })
  /** AFR is shown as on the usual gauge, so it reads as people know it, whatever the fuel. */
  const mixture = (lambda: number): string =>
    unit.value === 'lambda' ? plain(lambda, 3) : plain(afrShown(lambda, USUAL_GAUGE_SCALE), 2)
  const mixtureUnit = computed(() => (unit.value === 'lambda' ? 'λ' : 'AFR'))
  const percent = (value: number): string => signed(value, 1)
  return { unit, dark, mixture, mixtureUnit, percent }
})
