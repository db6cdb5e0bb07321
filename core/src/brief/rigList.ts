import { plain } from '../numbers/format'
import type { Job } from '../contract/job'
import type { RigLine } from '../contract/jobLines'

type Line = Omit<RigLine, 'done' | 'from'>
const line = (
  id: string,
  text: string,
  why: string,
  minutes: number,
  caution: string | null = null,
  gate = false,
): Line => ({
  id,
  text,
  why,
  minutes,
  caution,
  gate,
})
const gate = (id: string, text: string, why: string, minutes: number, caution: string | null = null): Line =>
  line(id, text, why, minutes, caution, true)

/**
 * The rig list of a job: what has to be done before the first run, made from how the machine is fuelled and measured.
 * Minutes are common practice.
 *
 * @example
 * rigList({ rigging: { drive: 'road' } }).some((one) => one.id === 'straps') // false
 */
export function rigList(job: Pick<Job, 'rigging' | 'limits' | 'machine'>): Line[] {
  const { fuelling = 'injected', drive = 'drum', probe = 'header', pickUp = 'clip-on' } = job.rigging ?? {}
  const onDrum = drive === 'drum'
  return [
    ...(onDrum
      ? [
          gate(
            'extraction',
            'Exhaust extraction on, carbon monoxide alarm tested',
            'a running engine fills a room in minutes',
            3,
            'Carbon monoxide has no smell and kills. No extraction or no alarm: the engine stays off.',
          ),
          gate(
            'second-person',
            'Second person within reach of the stop',
            'whoever drives cannot let go',
            1,
            'Keep clear of drum, chain and rear wheel.',
          ),
          gate(
            'straps',
            'Machine strapped at both ends, straps checked by a second look',
            'it pulls forward under load',
            8,
            'A machine that climbs off a drum cannot be held.',
          ),
        ]
      : [
          gate(
            'rider',
            'Somebody else rides; the screen is looked at standing still',
            'nobody watches a screen while riding',
            1,
            'Road tests follow local rules, with plates, light and insurance.',
          ),
          gate(
            'secured',
            'Logger and leads tied away from chain, wheel and steering',
            'a loose lead locks a wheel',
            6,
            'Turn the bars to both stops before riding.',
          ),
        ]),
    line(
      'tyre',
      'Tyre cold pressure set',
      'slip changes the gear ratio that is measured',
      3,
      job.limits?.softTyre ? 'Soft tyre noted in the brief: it wears and heats on a drum, so keep runs short.' : null,
    ),
    line('fluids', 'Oil, coolant and chain looked at', 'runs at full load ask for all of them', 4),
    pickUp === 'clip-on'
      ? line('pick-up', 'Clip the rpm pick-up on one coil lead', 'everything is booked by rpm', 3)
      : line(
          'pick-up',
          'Lift the tank and tap the rpm wire',
          'everything is booked by rpm',
          20,
          'Fuel under pressure: release it before a line is opened. Quick connectors of plastic break when levered.',
        ),
    probe === 'header'
      ? line(
          'probe',
          'Screw the wideband into the header, close to the port',
          'the exact place: nothing is mixed in on the way',
          15,
          'Exhaust and sensor burn. Let them cool first.',
        )
      : line(
          'probe',
          'Put the tube up the tailpipe, well in',
          'quick, but it reads lean at small flow and averages cylinders',
          5,
          'Exhaust burns. What it reads at small openings is not to be trusted.',
        ),
    line(
      'joints',
      'Exhaust joints ahead of the probe tight: no hiss with a rag over the outlet',
      'air that leaks in ahead of the probe reads lean, most at small flow, and no log can tell it from lean',
      3,
      'Exhaust burns. Cold engine, glove, a moment only.',
    ),
    line(
      'secondary-air',
      'Secondary air to the exhaust blanked for measuring',
      'it reads lean on a closed throttle and at idle; the put-back ledger reminds of it',
      3,
    ),
    gate('free-air', 'Wideband checked in free air', 'a probe that is off is off everywhere', 3),
    gate('throttle', 'Throttle sensor taught shut and wide open', 'load is booked by it', 3),
    ...(fuelling === 'carburetted'
      ? [
          gate(
            'fuel-tap',
            'Fuel tap open, float bowl full',
            'a bowl that runs dry reads as a lean main jet',
            1,
            'No ignition source near an open bowl.',
          ),
          line(
            'vacuum',
            'Take-offs for the vacuum gauge capped or connected',
            'a leak there leans the idle circuit',
            4,
          ),
        ]
      : [
          line(
            'oxygen-plug',
            'Note whether the factory oxygen sensor stays plugged in',
            'a closed loop undoes what is corrected under it',
            2,
          ),
        ]),
    gate(
      'battery',
      'Battery above 12.5 V, charger on',
      'a write that drops below leaves a controller dead until recovered',
      2,
      'Charge in the open: batteries give off gas.',
    ),
    ...(onDrum
      ? [
          line('fan', 'Cooling fan in front of the machine', 'a fan does not replace stops to cool', 2),
          line('panels', 'Panels off where heat would mark them', 'they mark within one long run', 10),
          gate(
            'ratio',
            'Gear ratio steady within 1 %: rpm over speed of the drum',
            'slip or the wrong gear shows here first',
            2,
          ),
        ]
      : []),
    ...(job.machine?.forcedInduction
      ? [
          gate(
            'boost',
            'Boost gauge or manifold pressure in the log',
            'lean under boost destroys pistons at once',
            5,
            'Lean under boost: stop the run.',
          ),
        ]
      : []),
  ]
}

/** Share by which the gear ratio of runs may differ. */
const RATIO_WITHIN = 0.01
/** Runs that can be held against each other. */
const LEAST_RUNS = 2

/**
 * Whether rpm over drum speed of runs in one gear agrees within 1 %, as the gate asks.
 *
 * @param ratios engine turns per turn of the drum, of each run that has both
 * @returns in words; empty with fewer than two runs
 */
export function ratioWords(ratios: readonly number[]): string {
  if (ratios.length < LEAST_RUNS) return ''
  const [low, high] = [Math.min(...ratios), Math.max(...ratios)]
  const apart = high / low - 1
  const by = `${plain(100 * apart, 1)} % apart over ${ratios.length} runs`
  return apart <= RATIO_WITHIN
    ? `Gear ratio ${by}: steady.`
    : `Gear ratio ${by}: slip, another gear, or an rpm lead that picks up twice.`
}

/** Minutes that what is not yet ticked takes, and all of it. */
export function rigMinutes(lines: readonly Pick<RigLine, 'minutes' | 'done'>[]): { left: number; all: number } {
  const sum = (some: readonly Pick<RigLine, 'minutes'>[]): number =>
    some.reduce((total, one) => total + (one.minutes ?? 0), 0)
  return { left: sum(lines.filter((one) => !one.done)), all: sum(lines) }
}
