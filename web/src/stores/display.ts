import { useDark, useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import {
  differenceIn,
  figureIn,
  unitOf,
  USUAL_UNITS,
  type Quantity,
  type ToldQuantity,
  type Units,
} from '@yuzumix/core'
import { signed } from '@/parts/numbers/format'

/** How things are shown: in which units, light or dark. Kept in this browser. */
export const useDisplay = defineStore('display', () => {
  const unit = useStorage<Units['mixture']>('yuzumix.mixtureUnit', USUAL_UNITS.mixture)
  const torqueUnit = useStorage<Units['torque']>('yuzumix.torqueUnit', USUAL_UNITS.torque)
  const powerUnit = useStorage<Units['power']>('yuzumix.powerUnit', USUAL_UNITS.power)
  const units = computed<Units>(() => ({ mixture: unit.value, torque: torqueUnit.value, power: powerUnit.value }))
  // Stopping transitions would take an inline style, which the content policy refuses.
  const dark = useDark({ storageKey: 'yuzumix.theme', disableTransition: false })
  const of = (quantity: Quantity): ToldQuantity => (quantity === 'lambda' ? 'mixture' : quantity)
  return {
    unit,
    dark,
    torqueUnit,
    powerUnit,
    mixture: (lambda: number): string => figureIn('mixture', lambda, units.value),
    mixtureUnit: computed(() => unitOf('mixture', units.value).name),
    percent: (value: number): string => signed(value, 1),
    unitOf: (quantity: Quantity): string => unitOf(of(quantity), units.value).name,
    /** Factor from the core's unit to the one shown. */
    factorOf: (quantity: Quantity): number => unitOf(of(quantity), units.value).factor,
    /** A figure in the unit shown, without it. */
    figure: (quantity: Quantity, value: number): string => figureIn(of(quantity), value, units.value),
    difference: (quantity: Quantity, value: number): string => differenceIn(of(quantity), value, units.value),
  }
})
