import { createHash } from 'node:crypto'
import { factsAsRead, type RunKind } from '@yuzumix/core'
import type { NewRun } from '../store/runs'

/** One column of a run in memory. */
export interface NamedColumn {
  channel: string
  unit: string
  /** of a column that is only kept: as its source names it */
  header?: string | undefined
  values: Float32Array
}

/** What whoever brings a run says of it; the rest is told from its columns. */
type Given = { name: string; kind: RunKind } & Partial<Omit<NewRun, 'facts' | 'samples' | 'channels'>>

/**
 * A run from columns that are in memory, whoever brought them: length, extremes and facts are told from the columns.
 *
 * @param columns of one length, `time` and `rpm` among them; those without any reading are left out
 */
export function newRun(columns: readonly NamedColumn[], { name, kind, ...given }: Given): NewRun {
  const read = columns.flatMap((column) => {
    const range = rangeOf(column.values)
    return range.count ? [{ ...column, ...range }] : []
  })
  const named = Object.fromEntries(read.map(({ channel, values }) => [channel, values]))
  const { rpm, time } = named
  return {
    duration: time ? time.at(-1)! - time[0]! : 0,
    warnings: [],
    gaugeScale: null,
    digest: createHash('sha256')
      .update(Buffer.from(rpm!.buffer, rpm!.byteOffset, rpm!.byteLength))
      .digest('hex'),
    ...given,
    name,
    kind,
    samples: rpm!.length,
    facts: factsAsRead(given.readAs, (channel) => named[channel] ?? null, kind, given),
    channels: read.map(({ values, ...info }) => ({ ...info, load: () => Promise.resolve(values) })),
  }
}

function rangeOf(values: Float32Array): { count: number; min: number; max: number } {
  const range = { count: 0, min: Infinity, max: -Infinity }
  for (const value of values) {
    if (value !== value) continue
    range.count++
    if (value < range.min) range.min = value
    if (value > range.max) range.max = value
  }
  return range
}
