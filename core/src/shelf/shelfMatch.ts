import { LOAD_UNITS } from '../table/table'
import { setsSpark } from '../table/kinds'
import type { Job } from '../contract/job'
import type { ChangedPart } from '../contract/brief'
import type { Shelf, ShelfMatch } from '../contract/shelf'
import { ethanolBlendAfr, FUELS } from '../fuel/fuels'
import type { Table } from '../table/table'
import { grouped, signed, plain } from '../numbers/format'

type Known = Pick<Job, 'machine' | 'fuel' | 'changed' | 'fuelSold' | 'limits' | 'jetting'>

/** Stoichiometric ratio of what is in the tank: ethanol as the pump states it first, else the fuel named. */
function stoichOf({ fuel, fuelSold }: Pick<Known, 'fuel' | 'fuelSold'>): number | null {
  if (fuelSold?.ethanolPct != null) return ethanolBlendAfr(fuelSold.ethanolPct)
  return fuel?.stoichAfr ?? FUELS.find((one) => one.id === fuel?.id)?.stoichAfr ?? null
}

const wordsOf = (name: string | undefined): string => (name ?? '').trim().toLowerCase()

/** A factor of the score and, where it is not 1, the difference in words. */
type Judged = [factor: number, said: string | null]

function machines(mine: Known['machine'], theirs: Known['machine']): Judged[] {
  const judged: Judged[] = []
  if (wordsOf(mine?.name) && wordsOf(theirs?.name))
    judged.push(wordsOf(mine?.name) === wordsOf(theirs?.name) ? [1, null] : [0.6, `another machine: ${theirs!.name}`])
  else judged.push([0.7, 'the machine is not named on both sides'])
  for (const [field, factor, unit] of [
    ['cylinders', 0.3, 'cylinders'],
    ['strokes', 0.1, 'strokes'],
  ] as const)
    if (mine?.[field] && theirs?.[field] && mine[field] !== theirs[field])
      judged.push([factor, `${theirs[field]} ${unit} instead of ${mine[field]}`])
  if (mine?.displacementCc && theirs?.displacementCc) {
    const ratio = theirs.displacementCc / mine.displacementCc
    if (Math.abs(ratio - 1) > 0.01)
      judged.push([
        Math.max(0.1, 1 - 4 * Math.abs(ratio - 1)),
        `${theirs.displacementCc} cc instead of ${mine.displacementCc} cc`,
      ])
  }
  if (Boolean(mine?.forcedInduction) !== Boolean(theirs?.forcedInduction)) judged.push([0.05, 'blown on one side only'])
  return judged
}

const partKey = ({ part, bore, length, removed }: ChangedPart): string => `${part}/${bore}/${length}/${removed}`
function partWords({ part, bore, length, removed }: ChangedPart): string {
  const what = removed
    ? 'taken out'
    : [bore === 'other' && 'other bore', length === 'other' && 'other length'].filter(Boolean).join(', ') || 'changed'
  return `${part}: ${what}`
}
function parts(mine: readonly ChangedPart[], theirs: readonly ChangedPart[]): Judged[] {
  const only = (some: readonly ChangedPart[], others: readonly ChangedPart[]): ChangedPart[] =>
    some.filter((one) => !others.some((other) => partKey(other) === partKey(one)))
  return [
    ...only(mine, theirs).map((one): Judged => [0.75, `here ${partWords(one)}, there not so`]),
    ...only(theirs, mine).map((one): Judged => [0.75, `there ${partWords(one)}, here not so`]),
  ]
}

function fuels(mine: Known, theirs: Shelf): Judged[] {
  const [here, there] = [stoichOf(mine), stoichOf(theirs)]
  if (here === null || there === null) return [[0.9, 'the fuel is not said on both sides']]
  const pct = 100 * (there / here - 1)
  if (Math.abs(pct) < 0.2) return []
  const ethanol = [mine.fuelSold?.ethanolPct, theirs.fuelSold?.ethanolPct]
  const more = ethanol[0] != null && ethanol[1] != null ? ethanol[0] - ethanol[1] : null
  const what = more ? `fuel with ${plain(Math.abs(more), 0)} % ${more > 0 ? 'more' : 'less'} ethanol` : 'another fuel'
  return [
    [
      Math.max(0.5, 1 - Math.abs(pct) / 20),
      `${what}: about ${plain(Math.abs(pct), 1)} % of fuel, ${pct > 0 ? 'richer' : 'leaner'} is needed here`,
    ],
  ]
}

function carburettors(mine: Known['jetting'], theirs: Known['jetting']): Judged[] {
  if (!mine || !theirs) return mine || theirs ? [[0.5, `carburettors on ${mine ? 'this' : 'that'} side only`]] : []
  const judged: Judged[] = []
  if (mine.body.kind !== theirs.body.kind) judged.push([0.2, `another kind of carburettor: ${theirs.body.kind}`])
  else if (mine.body.bore !== theirs.body.bore)
    judged.push([0.6, `bore ${theirs.body.bore} mm instead of ${mine.body.bore} mm`])
  if (mine.carburettors.length !== theirs.carburettors.length)
    judged.push([0.4, `${theirs.carburettors.length} carburettors instead of ${mine.carburettors.length}`])
  return judged
}

/** Throttle stops of the runs that prove or refute a map: wide open, where one rides, and between (common practice). */
const CHECK_STOPS = [100, 40, 15]

/** Speeds of check runs where neither a table nor a rev ceiling bounds them. */
const CHECK_SPEEDS = [2000, 6000] as const

/** Three runs that prove or refute a calibration on another machine, within its table, if any, and the rev ceiling. */
export function checkRunsOf(
  table: Pick<Table, 'rpm'> | null,
  revCeiling: number | null | undefined,
): ShelfMatch['checkRuns'] {
  const toRpm = Math.min(table?.rpm.at(-1) ?? revCeiling ?? CHECK_SPEEDS[1], revCeiling ?? Infinity)
  const fromRpm = Math.min(Math.max(table?.rpm[0] ?? 0, CHECK_SPEEDS[0]), toRpm)
  return CHECK_STOPS.map((stop) => ({ stop, fromRpm, toRpm }))
}

/**
 * What on the shelf is near a job, nearest first: a score and the differences in words.
 *
 * @param least score below which a calibration is not near
 */
export function shelfMatches(job: Known, shelf: readonly Shelf[], least = 0.2): ShelfMatch[] {
  const matches = shelf
    .map((one) => {
      const judged = [
        ...machines(job.machine, one.machine),
        ...parts(job.changed ?? [], one.changed ?? []),
        ...fuels(job, one),
        ...carburettors(job.jetting, one.jets?.settings),
      ]
      return {
        shelf: one,
        score: judged.reduce((product, [factor]) => product * factor, 1),
        differences: judged.flatMap(([, said]) => said ?? []),
        checkRuns: checkRunsOf(one.table, job.limits?.revCeiling),
      }
    })
    .filter((one) => one.score >= least)
    .sort((a, b) => b.score - a.score)
  return matches.map((one) => ({ ...one, likes: likesOf(one, matches).length }))
}

/** Least score of calibrations that may lend their mean. */
const ALIKE = 0.8

/** Those that stand for the same type of machine as one of them, and can be averaged with it; itself always. */
export function likesOf<Match extends Pick<ShelfMatch, 'shelf' | 'score'>>(
  one: Match,
  matches: readonly Match[],
): Match[] {
  const { table } = one.shelf
  return matches.filter(
    (other) =>
      other.shelf.id === one.shelf.id ||
      (table !== null &&
        one.score >= ALIKE &&
        other.score >= ALIKE &&
        other.shelf.table?.kind === table.kind &&
        other.shelf.table.loadAxis === table.loadAxis),
  )
}

/** Percent below which a cell counts as the same: steps that controllers round to. */
const SAME = 0.25

/** What a table is held against: as a machine came, or a calibration that somebody made. */
export interface HeldAgainst {
  name: string
  asItCame: boolean
}

/**
 * "Has someone been in here?": a table as it came against one from the shelf, in a sentence. Only a table as a machine came
 * tells; a calibration differs from stock by what was made of it.
 *
 * @param mine on the same breakpoints as theirs
 */
export function shelfDifference(
  mine: Table,
  theirs: Table,
  { name, asItCame }: HeldAgainst,
): { said: string; same: boolean; cells: number; of: number; largest: number | null; typical: number | null } {
  const isTrim = mine.kind.endsWith('trim')
  const off = mine.values.flatMap((row, r) =>
    row.map((value, c) => {
      const other = theirs.values[r]![c]!
      return {
        r,
        c,
        pct: isTrim || setsSpark(mine) ? value - other : other === 0 ? 0 : 100 * (value / other - 1),
      }
    }),
  )
  const changed = off.filter((one) => Math.abs(one.pct) > SAME)
  if (changed.length === 0)
    return {
      said: asItCame
        ? `Nobody seems to have been in here: every cell is as that of "${name}" when it came.`
        : `Every cell is as in "${name}". That is a calibration somebody made: it is in here already.`,
      same: true,
      cells: 0,
      of: off.length,
      largest: null,
      typical: null,
    }
  const largest = changed.reduce((a, b) => (Math.abs(b.pct) > Math.abs(a.pct) ? b : a))
  const typical = changed.reduce((sum, one) => sum + one.pct, 0) / changed.length
  const unit = setsSpark(mine) ? '°' : ' %'
  const way = setsSpark(mine) ? ['more advance', 'less advance'] : ['richer', 'leaner']
  const speeds = changed.map((one) => mine.rpm[one.c]!)
  const where =
    `${changed.length} of ${off.length} cells differ, from ${grouped(Math.min(...speeds))} to ${grouped(Math.max(...speeds))} rpm, ` +
    `by ${signed(typical)}${unit} as a rule (${typical > 0 ? way[0] : way[1]}), at most ${signed(largest.pct)}${unit} ` +
    `at ${grouped(mine.rpm[largest.c]!)} rpm and ${mine.load[largest.r]} ${LOAD_UNITS[mine.loadAxis]}.`
  const said = asItCame
    ? `Somebody has been in here, or in "${name}" before it came: ${where}`
    : `Held against "${name}", a calibration somebody made and not stock, ${where} Whether somebody has been in here that does not tell.`
  return { said, same: false, cells: changed.length, of: off.length, largest: largest.pct, typical }
}
