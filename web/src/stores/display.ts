import { useDark, useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import {
  afrShown,
  POWER_UNITS,
  TORQUE_UNITS,
  USUAL_GAUGE_SCALE,
  type PowerUnit,
  type Quantity,
  type TorqueUnit,
} from '@yuzumix/core'
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
  const torqueUnit = useStorage<TorqueUnit>('yuzumix.torqueUnit', 'N·m')
  const powerUnit = useStorage<PowerUnit>('yuzumix.powerUnit', 'kW')
  const unitOf = (quantity: Quantity): string =>
    quantity === 'torque' ? torqueUnit.value : quantity === 'power' ? powerUnit.value : mixtureUnit.value
  /** Factor from the core's unit to the one shown. */
  const factorOf = (quantity: Quantity): number =>
    quantity === 'torque'
      ? TORQUE_UNITS[torqueUnit.value]
      : quantity === 'power'
        ? POWER_UNITS[powerUnit.value]
        : unit.value === 'lambda'
          ? 1
          : USUAL_GAUGE_SCALE
  const digitsOf = (quantity: Quantity): number => (quantity === 'lambda' ? (unit.value === 'lambda' ? 3 : 2) : 1)
  /** A figure in the unit shown, without it. */
  const figure = (quantity: Quantity, value: number): string => plain(value * factorOf(quantity), digitsOf(quantity))
  const difference = (quantity: Quantity, value: number): string =>
    signed(value * factorOf(quantity), digitsOf(quantity))
  return {
    unit,
    dark,
    mixture,
    mixtureUnit,
    percent,
    torqueUnit,
    powerUnit,
    unitOf,
    factorOf,
    figure,
    difference,
  }
})
