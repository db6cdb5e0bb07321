import { createHash } from 'node:crypto'
import { closeSync, createReadStream, openSync, readSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { MessagePort } from 'node:worker_threads'
import {
  alignChannels,
  outliersInWords,
  withoutOutliers,
  detectEncoding,
  FACT_CHANNELS,
  guessKind,
  factsOfClean,
  runFault,
  headerSignature,
  logReader,
  readLayout,
  withOthers,
  type Encoding,
  type FactColumns,
  type Mapping,
  type ReadResult,
  type RunFacts,
  type RunKind,
} from '@yuzumix/core'
import { columnsOf } from './columnsOf'
import { recordingsOf, type Recording } from './recordings'

/** A log to read: where it lies, and how its columns are to be taken. */
export interface LogJob {
  path: string
  /** folder for the columns while they are read */
  spillFolder: string
  mapping: Mapping | null
  /** mappings that were chosen before, by header signature */
  remembered: Record<string, Mapping>
  gaugeScale: number
  sampleRateHz?: number | undefined
  /** as the user says; guessed when left out */
  kind?: RunKind | undefined
  progress?: MessagePort | undefined
}

/** A log that was read: columns lie in files, one per channel, as little-endian float32. */
export interface ReadLog extends ReadResult {
  spills: string[]
  duration: number
  kind: RunKind
  facts: RunFacts
  signature: string
  digest: string
}

/** Bytes by which the layout of a log is told; where they end before its first rows, the larger ones. */
const [HEAD_BYTES, LONG_HEAD_BYTES] = [1 << 16, 1 << 20]
/** Lines with something in them that a head has at the least. */
const LEAST_LINES = 30
/** Bytes parsed at once: enough to be quick, little enough to keep memory flat. */
const CHUNK = 1 << 16

/**
 * Reads a log as a stream: memory does not grow with its length, because finished pieces of each column go to a file.
 *
 * @returns one for each recording in it, mostly one
 * @throws Refusal 'no-log' when it is no usable log
 */
export async function readLog(job: LogJob): Promise<ReadLog[]> {
  const size = statSync(job.path).size
  const head = readHead(job.path)
  const encoding = detectEncoding(head)
  const text = new TextDecoder(encoding).decode(head)
  const layout = readLayout(text, size <= head.length)
  const signature = headerSignature(layout.headers)
  const { headers } = layout
  const asked = job.mapping ?? job.remembered[signature]
  // What somebody left out stays out; what nobody spoke of is kept.
  const told = asked ? withOthers(headers, asked, layout.units, false) : layout.mapping
  // A rate that is said goes before a guess at what counts time.
  const isSaid = job.sampleRateHz !== undefined || layout.headRateHz !== null
  const mapping = isSaid ? Object.fromEntries(Object.entries(told).filter(([, one]) => !isGuessedTime(one))) : told
  const reader = logReader({
    headers,
    mapping,
    units: layout.units,
    decimalComma: layout.decimalComma,
    gaugeScale: job.gaugeScale,
    sampleRateHz: job.sampleRateHz ?? layout.headRateHz ?? undefined,
  })
  const spills = reader.channels.map((channel) => join(job.spillFolder, `${channel}.f32`))
  const files = spills.map((path) => openSync(path, 'w'))
  let done = 0
  const digest = createHash('sha256')
  const parts = piecesOf(job.path, encoding, (part) => {
    digest.update(part)
    done += part.length
    job.progress?.postMessage(done / size)
  })
  try {
    for await (const columns of columnsOf(parts, isWide(encoding) ? 'utf-8' : encoding, reader, layout)) {
      columns.forEach((column, k) =>
        // Whole: on a disk that is nearly full a plain write stores a part, and says nothing.
        writeFileSync(files[k]!, new Uint8Array(column.buffer, column.byteOffset, column.byteLength)),
      )
    }
  } finally {
    files.forEach(closeSync)
  }
  const result = reader.finish()
  const kept = result.channels.map(({ channel }) => spills[reader.channels.indexOf(channel)]!)
  const content = digest.digest('hex')
  const recordings = recordingsOf(result, kept)
  return recordings.map((one, k): ReadLog => {
    const { kind, facts, warnings } = toldBy(one, job.kind)
    return {
      ...result,
      ...one,
      warnings: [...(k === 0 ? result.warnings : []), ...one.warnings, ...warnings],
      kind,
      facts,
      signature,
      digest: k === 0 ? content : `${content}#${k + 1}`,
    }
  })
}

/** What the first rows of a recording tell of it. */
function toldBy(
  { channels, spills, samples, duration }: Recording,
  asked: RunKind | undefined,
): Pick<ReadLog, 'kind' | 'facts' | 'warnings'> {
  const column = (channel: string): Float32Array | undefined => {
    const at = channels.findIndex((one) => one.channel === channel)
    return at < 0 ? undefined : readSampled(spills[at]!, channels[at]!.factor)
  }
  const logged: FactColumns = Object.fromEntries(
    FACT_CHANNELS.flatMap((channel) => {
      const values = column(channel)
      return values ? [[channel, values] as const] : []
    }),
  )
  const clean = withoutOutliers(logged)
  const told = alignChannels(clean)
  const takesTurns = told.time!.length < column('time')!.length
  const kind = asked ?? guessKind(told.time!, told.rpm!, told.throttle, told.spark)
  const facts = factsOfClean(told, kind)
  const fault = runFault({ kind, samples, duration, facts })
  return {
    kind,
    facts,
    warnings: [
      ...outliersInWords(logged, clean),
      ...(takesTurns
        ? ['The channels of this log take turns: they are brought to the rows of lambda, the others drawn in between.']
        : []),
      ...(fault ? [`${fault[0]!.toUpperCase()}${fault.slice(1)}. It ticks no plan.`] : []),
    ],
  }
}

const isGuessedTime = (one: Mapping[string]): boolean => one?.channel === 'time' && one.guessed === true

function readHead(path: string): Uint8Array {
  const file = openSync(path, 'r')
  const first = (bytes: number): Buffer => {
    const buffer = Buffer.alloc(bytes)
    return buffer.subarray(0, readSync(file, buffer, 0, bytes, 0))
  }
  try {
    const head = first(HEAD_BYTES)
    // Thousands of columns make long lines, and some programs begin with empty ones.
    if (head.length < HEAD_BYTES) return head
    const lines = head.toString('latin1').split(/[\r\n]/)
    // The last one may be cut.
    const told = lines.slice(0, -1).filter((line) => /[^\s,;\0]/.test(line)).length
    return told < LEAST_LINES ? first(LONG_HEAD_BYTES) : head
  } finally {
    closeSync(file)
  }
}

/** A file piece by piece; UTF-16 becomes UTF-8, so that all pieces extend ASCII. */
async function* piecesOf(path: string, encoding: Encoding, onPart: (part: Buffer) => void): AsyncGenerator<Buffer> {
  const decoder = isWide(encoding) ? new TextDecoder(encoding) : null
  for await (const part of createReadStream(path, { highWaterMark: CHUNK }) as AsyncIterable<Buffer>) {
    onPart(part)
    yield decoder ? Buffer.from(decoder.decode(part, { stream: true })) : part
  }
}

function isWide(encoding: Encoding): boolean {
  return encoding.startsWith('utf-16')
}

/** The first values of a spilled column: enough to tell the kind of a run. */
const MOST_SAMPLED = 200_000
function readSampled(path: string, factor: number): Float32Array {
  const count = statSync(path).size / 4
  const buffer = new Float32Array(Math.min(count, MOST_SAMPLED))
  const file = openSync(path, 'r')
  try {
    readSync(file, new Uint8Array(buffer.buffer), 0, buffer.byteLength, 0)
  } finally {
    closeSync(file)
  }
  return buffer.map((value) => value * factor)
}
