import { createWriteStream } from 'node:fs'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { MessagePort } from 'node:worker_threads'
import { ZipFile } from 'yazl'
import type { PackedJob } from './pack'
import { ROWS_AT_ONCE, runAsCsv } from './runFile'

/** What is packed, where to. */
export interface PackJob extends PackedJob {
  to: string
  progress?: MessagePort | undefined
}

/** Figures pack to a third at any level; the higher ones only take longer. */
const compressionLevel = 4

/** Writes an archive, as a stream: memory does not grow with its runs. */
export async function packArchive({ job, photos, runs, to, progress }: PackJob): Promise<void> {
  const zip = new ZipFile()
  zip.addBuffer(Buffer.from(job), 'job.json')
  // A photo is packed already.
  for (const { file, path } of photos) zip.addFile(path, file, { compress: false })
  const total = runs.reduce((sum, run) => sum + run.samples, 0)
  let done = 0
  const told = function* (run: PackJob['runs'][number]): Generator<Buffer> {
    for (const bytes of runAsCsv(run.channels, run.samples, run.spills)) {
      yield bytes
      done = Math.min(total, done + ROWS_AT_ONCE)
      progress?.postMessage(done / total)
    }
  }
  for (const run of runs)
    zip.addReadStreamLazy(run.file, { compressionLevel }, (ready) => ready(null, Readable.from(told(run))))
  zip.end()
  await pipeline(zip.outputStream, createWriteStream(to))
}
