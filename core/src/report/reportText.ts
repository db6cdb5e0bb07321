import type { Figure, Report, ReportPower } from '../contract/report'
import { grouped, plain } from '../numbers/format'
import { complaintName, placeWords } from '../brief/complaintWords'
import { USUAL_UNITS, type Units } from '../words/units'
import { aimWords, figureWords, moment, namesOf, pageOf, shownBy } from './reportWords'
import { sentence } from '../numbers/sentence'

/** A piece of a report, drawn alike on paper and on screen. */
export type ReportBlock =
  | { kind: 'heading'; text: string; onNewPage?: boolean }
  | { kind: 'paragraph'; text: string }
  | { kind: 'list'; items: readonly string[] }
  | {
      kind: 'table'
      head: readonly string[]
      rows: readonly (readonly string[])[]
      /** widths of the columns as shares of the page; a usual split when left out */
      shares?: readonly number[]
    }
  | { kind: 'curves'; power: ReportPower; units: Units }

/** For whom it is: the workshop's version shows where each figure stands. */
export type ReportReader = 'customer' | 'workshop'

function machineWords({ machine, identity }: Report): string {
  if (!machine) return identity || 'not said'
  const { name, cylinders, displacementCc, strokes } = machine
  return [
    name,
    cylinders && `${cylinders} cylinder${cylinders === 1 ? '' : 's'}`,
    displacementCc && `${displacementCc} cc`,
    strokes && `${strokes}-stroke`,
    identity,
  ]
    .filter(Boolean)
    .join(', ')
}

const lowerFirst = (words: string): string => words.charAt(0).toLowerCase() + words.slice(1)

function answerOf({ complaint, said, state, then }: Report['complaints'][number]): string {
  return [
    then && sentence(`In the state it was about, ${then.state}: ${lowerFirst(then.said)}`),
    complaint.found && sentence(`Found: ${complaint.found}`),
    sentence(then && state ? `Now, ${state}: ${lowerFirst(said)}` : said),
    complaint.done && sentence(`Done: ${complaint.done}`),
    complaint.riderSays
      ? sentence(`The rider says: ${complaint.riderSays}`)
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
export function reportText(report: Report, reader: ReportReader, units: Units = USUAL_UNITS): ReportBlock[] {
  const { power, torque, mixture, findings = [], changes, complaints, putBack, notMeasured, cautions } = report
  const { record = [] } = report
  const isWorkshop = reader === 'workshop'
  const words = (figure: Figure): string => figureWords(figure, units)
  const where = (figure: Figure): string[] => (isWorkshop ? [pageOf(figure)] : [])
  const whereHead = isWorkshop ? ['where'] : []
  const facts = [
    ['Report', `${report.n === null ? 'not saved yet' : `number ${report.n}`}, ${moment(report.at)}`],
    ...(report.workshop ? [['Workshop', report.workshop]] : []),
    ...(report.rider ? [['Rider', report.rider]] : []),
    ['Machine', machineWords(report)],
    ['Fitted', report.fitted || 'not said'],
    ...(report.state ? [['State', report.state]] : []),
    ['Fuel', report.fuel],
    ['Weather', report.weather],
    ['Rig', report.rig],
    ...(report.by ? [['By', report.by]] : []),
    ['Correction', report.correction],
    ...(report.wanted ? [['Mixture aimed at', aimWords(report.wanted, units)]] : []),
    ...report.limits.map((text) => ['Limit', text]),
  ]
  const measured = record.filter((one) => one.kind === 'runs' && one.typical)
  const off = measured.length
    ? measured.map(({ what, runs, asked, typical, worst, where: place }) => [
        what,
        `${runs.length}${asked ? `, ${asked}` : ''}`,
        `${plain(typical!.value, 1)} %`,
        worst ? `${words(worst)} at ${place}` : '',
        ...where(typical!),
      ])
    : (['before', 'after'] as const).flatMap((side) => {
        const one = mixture[side]
        if (!one) return []
        const worst = one.worst ? `${words(one.worst)} at ${one.at}` : ''
        return [[one.set, String(one.runs), `${plain(one.typical.value, 1)} %`, worst, ...where(one.typical)]]
      })
  const powerBlocks = (drawn: ReportPower): ReportBlock[] => {
    const name = drawn.quantity === 'torque' ? 'Torque' : 'Power'
    const at = drawn.stop === null ? '' : `, throttle ${drawn.stop} %`
    return [
      { kind: 'heading', text: `${name}, state by state${at}` },
      ...(drawn.rpm.length ? [{ kind: 'curves', power: drawn, units } as const] : []),
      ...(drawn.gains.length
        ? [
            {
              kind: 'table',
              head: ['difference', `${drawn.after} against ${drawn.before} [90 % interval]`, ...whereHead],
              rows: drawn.gains.map(({ name: what, figure }) => [what, words(figure), ...where(figure)]),
            } as const,
          ]
        : []),
      ...(drawn.refused.length ? [{ kind: 'list', items: drawn.refused } as const] : []),
    ]
  }
  const missing = [...notMeasured.runs, ...notMeasured.complaints.map((text) => `where the rider complains: ${text}`)]
  return [
    { kind: 'heading', text: report.title },
    { kind: 'table', head: ['', ''], rows: facts },
    ...[power, torque].flatMap((one) => (one ? powerBlocks(one) : [])),
    ...(off.length
      ? ([
          { kind: 'heading', text: 'Mixture off target' },
          { kind: 'table', head: ['state', 'runs', 'typically', 'at worst', ...whereHead], rows: off },
        ] as const)
      : []),
    ...(complaints.length
      ? ([
          { kind: 'heading', text: 'What the rider complained of' },
          {
            kind: 'list',
            items: complaints.map(
              (one) =>
                `${complaintName(one.complaint)}${placeWords(one.complaint) && ` (${placeWords(one.complaint)})`}. ${answerOf(one)}`,
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
    ...(record.length
      ? ([
          { kind: 'heading', text: 'What was done, in order' },
          {
            kind: 'table',
            head: ['when', 'what', 'who asked, and why', 'what moved, or what it shows'],
            shares: [0.13, 0.27, 0.28, 0.32],
            rows: record.map((one) => [
              moment(one.at),
              `${one.what}${one.kind === 'runs' ? namesOf(one.runs) : ''}`,
              [`${one.asked}${one.kind === 'change' ? namesOf(one.runs) : ''}`, one.why].map(sentence).join(' ').trim(),
              shownBy(one, units),
            ]),
          },
        ] as const)
      : []),
    { kind: 'heading', text: 'What is changed in all, first state against last' },
    changes.length
      ? {
          kind: 'table',
          head: ['table', 'zone', 'largest', 'typical', record.length ? 'by' : 'why', ...whereHead],
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
