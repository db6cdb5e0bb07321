import type { HeatAgainstMixture } from '../field/beside/besideOf'
import { signed } from '../numbers/format'

/**
 * What leaner and hotter say of each other, as a sentence; empty where nothing tells.
 *
 * @example
 * heatWords({ perPercent: null, low: null, high: null, verdict: 'untold' }) // ''
 */
export function heatWords({ perPercent, low, high, verdict }: HeatAgainstMixture): string {
  if (perPercent === null || verdict === 'untold') return ''
  const figure = `${signed(perPercent, 1)} °C for each percent leaner (${signed(low!, 1)} to ${signed(high!, 1)})`
  return verdict === 'agree'
    ? `Leaner is hotter, as it should be rich of lambda 1: ${figure}. Wideband and exhaust probe bear each other out.`
    : `Leaner reads cooler: ${figure}. Rich of lambda 1 it cannot be: the wideband or the exhaust probe lies, or the ignition was moved between these runs.`
}
