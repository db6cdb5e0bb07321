import { mean } from '../../numbers/mean'
import type { Comparison } from './compare'
import { verdictOf } from './verdict'

/** Past its top a gain counts until it has fallen to this share. */
const FALLEN = 0.7
/** rpm between real bins over which they are one stretch all the same. */
const SHORT_GAP = 400
/** A difference goes on over a gap where its mean is this share of what is on both sides. */
const GOES_ON = 0.5

interface GainWindow {
  bins: number[]
  /** the gain is there from the lowest speed */
  isFromStart: boolean
  /** what comes before it is less */
  lessBefore: boolean
}

/** Bins from the last thing before the largest gain to where it has passed its top; null when no gain is real. */
export function gainWindow(comparison: Comparison): GainWindow | null {
  const { rpm, difference, first } = comparison
  const spans = bridged(verdictOf(comparison).spans, comparison)
  const gains = spans.filter((one) => one.difference > 0)
  const area = ({ fromRpm, toRpm, difference: mean }: Span): number => (toRpm - fromRpm) * mean
  const largest = gains.reduce<Span | null>((best, one) => (best && area(best) >= area(one) ? best : one), null)
  if (!largest) return null
  const before = spans.filter((one) => one.toRpm < largest.fromRpm).at(-1)
  const met = rpm.flatMap((at, k) => (difference[k] === null ? [] : [{ at, k }]))
  const within = met.filter(
    ({ at }) => at <= largest.toRpm && (!before || (before.difference < 0 ? at >= before.fromRpm : at > before.toRpm)),
  )
  const inside = within.filter(({ at }) => at >= largest.fromRpm)
  const share = ({ k }: { k: number }): number => difference[k]! / Math.abs(first[k]!)
  const top = inside.reduce((best, one) => (share(one) > share(best) ? one : best), inside[0]!)
  const fallen = inside.find((one) => one.at > top.at && share(one) < FALLEN * share(top))
  const bins = within.filter(({ at }) => !fallen || at < fallen.at).map(({ k }) => k)
  return {
    bins,
    isFromStart: largest.fromRpm <= rpm[bins[0]!]!,
    lessBefore: before !== undefined && before.difference < 0,
  }
}

type Span = ReturnType<typeof verdictOf>['spans'][number]

/** Spans of one sign as one where the gap between them is short, or the difference goes on over it, only less surely. */
function bridged(spans: readonly Span[], comparison: Comparison): Span[] {
  const out: Span[] = []
  for (const span of spans) {
    const last = out.at(-1)
    const isOne = last && Math.sign(last.difference) === Math.sign(span.difference)
    if (isOne && (span.fromRpm - last.toRpm <= SHORT_GAP || goesOn(last, span, comparison)))
      out[out.length - 1] = { ...last, toRpm: span.toRpm, difference: (last.difference + span.difference) / 2 }
    else out.push(span)
  }
  return out
}

/** Whether the difference of two spans goes on between them. */
function goesOn(before: Span, after: Span, { rpm, difference }: Comparison): boolean {
  const gap = difference.filter((_, k) => rpm[k]! > before.toRpm && rpm[k]! < after.fromRpm)
  if (gap.includes(null)) return false
  const least = GOES_ON * Math.min(Math.abs(before.difference), Math.abs(after.difference))
  return Math.sign(after.difference) * mean(gap as number[]) >= least
}
