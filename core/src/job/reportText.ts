import type { Complaint } from '../contract/complaint'
import type { Figure, Report } from '../contract/report'
import { grouped, plain, signed } from '../numbers/format'
import { complaintName, placeWords } from './complaintWords'

/** A piece of a report, drawn alike on paper and on screen. */
export type ReportBlock =
  | { kind: 'heading'; text: string; onNewPage?: boolean }
  | { kind: 'paragraph'; text: string }
  | { kind: 'list'; items: readonly string[] }
  | { kind: 'table'; head: readonly string[]; rows: readonly (readonly string[])[] }
  | { kind: 'curves'; power: NonNullable<Report['power']> }

/** For whom it is: the workshop's version shows where each figure stands. */
export type ReportReader = 'customer' | 'workshop'

const HP = 1.34102209

/** A figure with its unit, sign and interval; power in both units. */
function words({ value, unit, low, high }: Figure): string {
  const span = low !== null && high !== null ? ` [${signed(low)}, ${signed(high)}]` : ''
  const other = unit === 'kW' ? ` (${signed(value * HP)} hp)` : ''
  return `${signed(value)} ${unit}${span}${other}`
}
const at = ({ from: { method, path, at: pointer } }: Figure): string => `${method} ${path} ${pointer}`

function machineWords({ machine }: Report): string {
  if (!machine) return 'not said'
  const { name, cylinders, displacementCc, strokes } = machine
  return [
    name,
    cylinders && `${cylinders} cylinder${cylinders === 1 ? '' : 's'}`,
    displacementCc && `${displacementCc} cc`,
    strokes && `${strokes}-stroke`,
  ]
    .filter(Boolean)
    .join(', ')
}

function answerOf(complaint: Complaint, said: string): string {
  return [
    complaint.found && `Found: ${complaint.found}.`,
    said,
    complaint.done && `Done: ${complaint.done}.`,
    complaint.riderSays
      ? `The rider says: ${complaint.riderSays}.`
      : complaint.leftOpen
        ? 'Left open, knowingly.'
        : 'No answer yet.',
  ]
    .filter(Boolean)
    .join(' ')
}

const putBackWords = ({ what, was, now, back, leftSo, told }: Report['putBack'][number]): string =>
  back
    ? `${what}: back (${was})`
    : leftSo
      ? `${what}: left so (${now}), told ${told}`
      : `${what}: still ${now}, was ${was}`

/** Unmeasured cells by load: "10 %: 2,000 to 3,500 rpm" would hide holes, so each is named. */
function cellsByLoad(cells: Report['notMeasured']['cells']): string[] {
  const rows = new Map<number, number[]>()
  for (const { rpm, load } of cells) rows.set(load, [...(rows.get(load) ?? []), rpm])
  return [...rows].map(([load, rpm]) => `load ${load}: ${rpm.map(grouped).join(', ')} rpm`)
}

/**
 * A report as pieces in order: one page, then an annex.
 */
export function reportText(report: Report, reader: ReportReader): ReportBlock[] {
  const { power, mixture, findings = [], changes, complaints, putBack, notMeasured, cautions } = report
  const isWorkshop = reader === 'workshop'
  const where = (figure: Figure): string[] => (isWorkshop ? [at(figure)] : [])
  const whereHead = isWorkshop ? ['stands at'] : []
  const facts = [
    ['Machine', machineWords(report)],
    ['Fitted', report.fitted || 'not said'],
    ...(report.state ? [['State', report.state]] : []),
    ['Fuel', report.fuel],
    ['Weather', report.weather],
    ['Rig', report.rig],
    ...(report.by ? [['By', report.by]] : []),
    ['Correction', report.correction],
    ...report.limits.map((text) => ['Limit', text]),
  ]
  const off = (['before', 'after'] as const).flatMap((side) => {
    const one = mixture[side]
    if (!one) return []
    return [
      [
        side,
        `${one.set}, ${one.runs} runs`,
        `${plain(one.typical.value, 1)} %`,
        one.worst ? `${words(one.worst)} at ${one.at}` : '',
        ...where(one.typical),
      ],
    ]
  })
  const missing = [...notMeasured.runs, ...notMeasured.complaints.map((text) => `where the rider complains: ${text}`)]
  return [
    { kind: 'heading', text: report.title },
    { kind: 'table', head: ['', ''], rows: facts },
    ...(power
      ? ([
          { kind: 'heading', text: `Power before and after${power.stop === null ? '' : `, throttle ${power.stop} %`}` },
          ...(power.rpm.length ? [{ kind: 'curves', power } as const] : []),
          ...(power.gains.length
            ? [
                {
                  kind: 'table',
                  head: ['difference', 'after against before [90 % interval]', ...whereHead],
                  rows: power.gains.map(({ name, figure }) => [name, words(figure), ...where(figure)]),
                } as const,
              ]
            : []),
          ...(power.refused.length ? [{ kind: 'list', items: power.refused } as const] : []),
        ] as const)
      : []),
    ...(off.length
      ? ([
          { kind: 'heading', text: 'Mixture off target' },
          { kind: 'table', head: ['', 'runs', 'typically', 'at worst', ...whereHead], rows: off },
        ] as const)
      : []),
    ...(complaints.length
      ? ([
          { kind: 'heading', text: 'What the rider complained of' },
          {
            kind: 'list',
            items: complaints.map(
              ({ complaint, said }) =>
                `${complaintName(complaint)}${placeWords(complaint) && ` (${placeWords(complaint)})`}. ${answerOf(complaint, said)}`,
            ),
          },
        ] as const)
      : []),
    ...(findings.length
      ? ([
          { kind: 'heading', text: 'What the runs show beside it' },
          { kind: 'list', items: findings },
        ] as const)
      : []),
    { kind: 'heading', text: 'What was not measured' },
    {
      kind: 'list',
      items: [
        ...(missing.length ? missing : ['All of the plan was run.']),
        ...(notMeasured.cells.length ? [`${notMeasured.cells.length} cells of the field, named in the annex`] : []),
      ],
    },
    { kind: 'heading', text: 'Cautions' },
    {
      kind: 'list',
      items: [...cautions, report.lookAgain, 'Nothing here is promised for another day, fuel or machine.'],
    },
    { kind: 'heading', text: 'Annex', onNewPage: true },
    { kind: 'heading', text: 'What was changed' },
    changes.length
      ? {
          kind: 'table',
          head: ['table', 'zone', 'largest', 'typical', 'why', ...whereHead],
          rows: changes.map((one) => [
            one.table,
            one.zone,
            words(one.largest),
            words(one.typical),
            one.why,
            ...where(one.largest),
          ]),
        }
      : { kind: 'paragraph', text: 'No table was changed.' },
    { kind: 'heading', text: 'What was put back' },
    putBack.length
      ? { kind: 'list', items: putBack.map(putBackWords) }
      : { kind: 'paragraph', text: 'Nothing was changed for the session.' },
    ...(notMeasured.cells.length
      ? ([
          { kind: 'heading', text: 'Cells that nothing is known of' },
          { kind: 'list', items: cellsByLoad(notMeasured.cells) },
        ] as const)
      : []),
  ]
}
