import { ethanolBlendAfr } from '../fuel/fuels'
import type { RigFaults } from '../engine/faults'
import { CURLEW_437, GODWIT_712, OPEN_SILENCER, STOCK_BREATHING } from '../engine/machines'
import type { SimulatedMachine } from '../engine/machinesById'
import type { Diagnosis } from './diagnoses'

/** A case to learn from: a machine with something hidden. */
export interface TrainerCase {
  id: string
  title: string
  /** what the rider and the last workshop say; gives nothing away */
  brief: string
  complaint: string
  fitted: string
  /** hidden until the case is finished */
  machine: SimulatedMachine
  faults: Partial<RigFaults>
  diagnosis: Diagnosis
  /** acts of the workshop that put it right; none where it is done with tables alone */
  cures: readonly string[]
  /** what an expert would have looked at */
  expert: readonly string[]
}

const curlew = (over: Partial<SimulatedMachine> = {}): SimulatedMachine => ({
  id: 'trainer-curlew',
  name: 'Curlew 437',
  engine: CURLEW_437,
  breathing: STOCK_BREATHING,
  loop: [{ fromRpm: 2300, toRpm: 4200, mostPlate: 12 }],
  edits: 'base',
  ...over,
})
const GODWIT: SimulatedMachine = {
  id: 'trainer-godwit',
  name: 'Godwit 712',
  // The two cylinders of this one were matched, so that what differs is the fault.
  engine: { ...GODWIT_712, spread: GODWIT_712.spread.map(() => ({ low: 1, high: 1 })) },
  breathing: STOCK_BREATHING,
  loop: [{ fromRpm: 2300, toRpm: 3600, mostPlate: 12 }],
  edits: 'trims',
}

export const TRAINER_CASES: readonly TrainerCase[] = [
  {
    id: 'shorter-silencer',
    title: 'The shorter silencer',
    brief:
      'The owner of a Curlew 437 fitted a shorter, more open silencer and nothing else. It starts, idles and pulls from low down as before.',
    complaint: 'Goes flat at 5,000 to 6,000 rpm and surges when held there.',
    fitted: 'A shorter open silencer, stock filter',
    machine: curlew({ breathing: OPEN_SILENCER }),
    faults: {},
    diagnosis: 'lean mid-range',
    cures: [],
    expert: [
      'Sweeps at several stops, twice each: the same band is lean at every opening, and it repeats, so it is the machine and not a run.',
      'The zone at small openings that the loop holds reads 1.00: gauge, sensor and joints are in order.',
      'Above 8,000 rpm it is lean as well: more flow at the top. Correct what was measured, in two or three passes, and leave the held zone alone.',
    ],
  },
  {
    id: 'one-plug-dark',
    title: 'One plug dark',
    brief:
      'A Godwit 712 came in for a service. Both plugs were new 2,000 km ago; the one of the second cylinder is dark, the other light brown. Nothing was changed on the machine.',
    complaint: 'Uses more fuel than it did; a little rough at low speed.',
    fitted: 'Nothing; as it left the factory',
    machine: GODWIT,
    faults: { injectors: [1, 1.08] },
    diagnosis: 'rich cylinder',
    cures: ['injectors'],
    expert: [
      'A wideband for each cylinder, and the two compared at the same node: one is near 8 % richer everywhere, which no breathing explains.',
      'The mean of both in the held zone is 1.00: the loop hides it by making the other cylinder lean.',
      'Matched injectors put it right; a trim for the one cylinder does so as well, and comes off again when the injectors are matched.',
    ],
  },
  {
    id: 'nothing-takes',
    title: 'Nothing takes',
    brief:
      'The last workshop put 10 % more fuel into the low openings of this Curlew 437, three times over, and measured no change at all. The table it came with is back in.',
    complaint: 'Hunts a little at a steady 4,000 rpm in town.',
    fitted: 'Nothing; as it left the factory',
    machine: curlew({ loop: [{ fromRpm: 2300, toRpm: 5200, mostPlate: 22 }] }),
    faults: {},
    diagnosis: 'held zone',
    cures: [],
    expert: [
      'Small openings up to 5,000 rpm sit at 1.00 with a small ripple, whatever the table says, and the short-term trim moves there: closed loop.',
      'Above and beyond the zone the mixture is on target: there is nothing to correct.',
      'More fuel in a held zone is taken out again by the loop, and bites only when the loop is off. The right change is none.',
    ],
  },
  {
    id: 'lean-low-down',
    title: 'Lean low down, after the silencer was off',
    brief:
      'A Curlew 437 was tuned last year and was right. Since then the silencer was off once, for a new tyre. The owner lent a gauge and says that it has gone lean at small openings.',
    complaint: 'Reads lean at small openings; it runs as it always did.',
    fitted: 'Nothing since it was tuned',
    machine: curlew(),
    faults: { leak: 900 },
    diagnosis: 'air leak',
    cures: ['joints'],
    expert: [
      'The departure falls with flow: large at small openings and low speed, next to nothing wide open at the top. A table error has no reason to do that.',
      'The held zone reads clearly above 1.00, while the controller’s own sensor holds 1.00: the gauge sees air that the engine never had.',
      'Seal the joint, measure again, and change nothing. Fuel put in for a leak makes the machine rich.',
    ],
  },
  {
    id: 'rough-at-the-top',
    title: 'Rough on the straight',
    brief:
      'A Curlew 437 with 14,000 km. The log of a friend shows lean above 6,500 rpm wide open, and the advice was to add fuel there.',
    complaint: 'Rough and down on power near the top with the throttle wide open.',
    fitted: 'Nothing; as it left the factory',
    machine: curlew(),
    faults: { misfire: { fromRpm: 6300, toRpm: 8200, fromPlate: 55, share: 0.22 } },
    diagnosis: 'misfire',
    cures: ['plugs'],
    expert: [
      'Lambda scatters two or three times as much in the band as outside of it: charges that do not burn pass their oxygen on, cycle by cycle.',
      'Torque falls in the same band. A mixture that is a little lean does not cost that much.',
      'New plugs first. Fuel put in for a misfire makes it worse and fouls the next plug.',
    ],
  },
  {
    id: 'runs-out',
    title: 'Runs out of breath',
    brief:
      'A Curlew 437 that stood for two winters. It pulls well up to about 7,000 rpm wide open, then nothing more comes. Half open it revs right out.',
    complaint: 'Lean and without power near the top, wide open.',
    fitted: 'Nothing; a fresh tank of fuel',
    machine: curlew(),
    faults: { pump: 2380 },
    diagnosis: 'weak pump',
    cures: ['pump'],
    expert: [
      'Lean only where most fuel is used, and the more so the more is used: wide open and high speed. Half open at the same speed is on target.',
      'A richer table changes nothing there: the fuel is asked for and does not come. That pass is one too many; do not repeat it at full load.',
      'Lean at full load is how pistons are lost: stop, measure fuel pressure under load, fit the pump.',
    ],
  },
  {
    id: 'worse-each-pass',
    title: 'Worse with each pass',
    brief:
      'On this Godwit 712 each cylinder has a trim of its own. The last workshop corrected one, then the other, and it got worse with each pass. The loom was repaired before that.',
    complaint: 'Rough all over; one cylinder rich, the other lean.',
    fitted: 'Repaired loom; else as it left the factory',
    machine: { ...GODWIT, engine: GODWIT_712, firstTrims: 'matched' },
    faults: { wiring: [1, 0] },
    diagnosis: 'swapped wires',
    cures: ['wires'],
    expert: [
      'Change the trim of one cylinder in one place by a known amount and measure: the other one answers.',
      'After an honest correction the departures have doubled instead of going away, with opposite signs: each correction went to the neighbour.',
      'Put the wires right, restore what was there first, and measure again before anything is corrected.',
    ],
  },
  {
    id: 'rich-everywhere',
    title: 'Rich everywhere, says the gauge',
    brief:
      'The gauge of this workshop was last used on a machine that runs on a blend with much ethanol. It now says that this untouched Curlew 437 is rich by the same share at every node.',
    complaint: 'None; the owner wants it looked over before a long tour.',
    fitted: 'Nothing; as it left the factory',
    machine: curlew(),
    faults: { gauge: ethanolBlendAfr(30) / ethanolBlendAfr(5) },
    diagnosis: 'gauge scale',
    cures: ['gauge'],
    expert: [
      'The same share everywhere is no engine: breathing, wear and wiring all depend on speed or load.',
      'The held zone should read 1.00 and reads near 0.92: the controller’s sensor and the gauge disagree by just that share.',
      'Set the gauge right and measure again. Leaning by what it said would have made every node 8 % lean, wide open as well.',
    ],
  },
]
