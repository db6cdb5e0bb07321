import { computed } from 'vue'
import { airDensity, correctSet, CORRECTIONS, densityAltitude, type Conditions } from '@yuzumix/core'

/** What the weather of a set makes of the air, and each correction standard of that. */
export function useSetAir(conditions: () => Conditions | null) {
  const air = computed(() => {
    const now = conditions()?.weather
    if (!now) return null
    const density = airDensity(now)
    return { now, density, altitude: densityAltitude(density) }
  })
  const factors = computed(() =>
    air.value ? CORRECTIONS.filter((one) => one.id !== 'none').map((one) => correctSet(one.id, air.value!.now)) : [],
  )
  return { air, factors }
}
