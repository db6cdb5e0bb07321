import {
  calibrateJetting,
  circuitTargets,
  DEFAULT_JETTING,
  predictJetting,
  searchBox,
  type Fitting,
  type HandRequest,
  type JettingSettings,
  type NewJob,
  type NewSet,
} from '@yuzumix/core'
import { readCarburettor, SHED_BODY, SHED_BOX, unknownCase } from '../core/src/simulator/knownCarburettor'

const SEED = 12
const RPM = 4500
const OPENINGS = [0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.6, 0.8, 1]

const SETTINGS: JettingSettings = {
  ...DEFAULT_JETTING,
  body: SHED_BODY,
  box: SHED_BOX,
  checks: ['float', 'boots', 'clean', 'synchronised', 'choke', 'fuel'],
}

export const CARBURETTOR_JOB: NewJob = {
  title: 'Plover 312, slide carburettor',
  machine: { name: 'Plover 312 single', cylinders: 1, displacementCc: 312, strokes: 4 },
  fuel: { id: 'e5' },
  gaugeScale: 14.7,
  use: 'road',
  fitted: 'Open filter; the carburettor as it came',
  complaint: 'Hesitates as the throttle is opened from a quarter, and was never right since the filter was changed.',
  jetting: SETTINGS,
}

/** The story of a carburettor: what was fitted first, read by hand, and what the box gave, read again. */
export function carburettorStory(): { set: NewSet; readings: HandRequest['readings'] }[] {
  const { carb, fitted, random } = unknownCase(SEED)
  const weather = { temperatureC: 21, pressureKpa: 100.6, humidityPct: 40 }
  const first = readCarburettor(carb, fitted, random, OPENINGS)
  const calibration = calibrateJetting(SHED_BODY, SHED_BOX, [{ fitted, readings: first }])
  const proposal = searchBox(calibration, fitted, circuitTargets(SETTINGS)).byChanges[0]![0]!
  const typed = (readings: typeof first): HandRequest['readings'] =>
    readings.map(({ opening, lambda }) => ({ rpm: RPM, load: 100 * opening, readings: [(14.7 * lambda).toFixed(1)] }))
  const fitting = (reason: string, parts: typeof fitted, predicted: Fitting['predicted']): Fitting => ({
    fitted: [parts],
    reason,
    predicted,
  })
  return [
    {
      set: { name: 'Fitting 1', setup: 'as it came', weather, fitting: fitting('As it came', fitted, null) },
      readings: typed(first),
    },
    {
      set: {
        name: 'Fitting 2',
        setup: `${proposal.changed[0]} ${proposal.fitted[proposal.changed[0]!]}`,
        weather,
        fitting: fitting('Proposed, one change', proposal.fitted, [
          predictJetting(calibration, proposal.fitted, OPENINGS),
        ]),
      },
      readings: typed(readCarburettor(carb, proposal.fitted, random, OPENINGS)),
    },
  ]
}
