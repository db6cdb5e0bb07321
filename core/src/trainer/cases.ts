import { ethanolBlendAfr } from '../fuel/fuels'
import type { RigFaults } from '../simulator/faults'
import {
  accelerationFuel,
  CURLEW_437,
  DUNNOCK_498,
  GODWIT_712,
  OPEN_SILENCER,
  STOCK_BREATHING,
} from '../simulator/machines'
import { FOLLOWING_PLATE, generous, RUSHING_PLATE, type SimulatedMachine } from '../simulator/machinesById'
import type { Diagnosis } from './diagnoses'
import {
  AT_THE_TOP,
  HALF_AT_THE_TOP,
  HALF_OPEN,
  HELD_PART,
  measuredAfter,
  ranThrough,
  WIDE_OPEN,
  type Look,
} from './looks'

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
  /** what an expert would have looked at, as far as runs can show it: full marks need that */
  looks: readonly Look[]
  /** what an expert would have seen, told at the end */
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

const dunnock = (over: Partial<SimulatedMachine> = {}): SimulatedMachine => ({
  id: 'trainer-dunnock',
  name: 'Dunnock 498',
  engine: DUNNOCK_498,
  breathing: STOCK_BREATHING,
  loop: [{ fromRpm: 2000, toRpm: 4400, mostPlate: 14 }],
  edits: 'base',
  plates: [FOLLOWING_PLATE],
  ...over,
})

export const TRAINER_CASES: readonly TrainerCase[] = [
  {
    id: 'shorter-silencer',
    title: 'Curlew with another silencer',
    brief:
      'The owner of a Curlew 437 fitted a shorter, more open silencer and nothing else. It starts and idles as before.',
    complaint: 'Does not pull as it did; the rider cannot say where.',
    fitted: 'A shorter open silencer, stock filter',
    machine: curlew({ breathing: OPEN_SILENCER }),
    faults: {},
    diagnosis: 'lean mid-range',
    cures: [],
    looks: [
      ranThrough('small openings, where the loop holds: gauge, sensor and joints', HELD_PART),
      ranThrough('half open through the range', HALF_OPEN),
      ranThrough('wide open through the range, twice: it repeats', WIDE_OPEN, 2),
      measuredAfter('wide open once more after the last write', WIDE_OPEN),
    ],
    expert: [
      'Sweeps at several stops, twice each: the same band is lean at every opening, and it repeats, so it is the machine and not a run.',
      'The zone at small openings that the loop holds reads 1.00: gauge, sensor and joints are in order.',
      'Above 8,000 rpm it is lean as well: more flow at the top. Correct what was measured, in two or three passes, and leave the held zone alone.',
    ],
  },
  {
    id: 'one-plug-dark',
    title: 'Thirsty twin',
    brief:
      'A Godwit 712 in for its service. Whoever was in there before left no notes. Nothing was changed on the machine.',
    complaint: 'Uses more fuel than it did; a little rough at low speed.',
    fitted: 'Nothing; as it left the factory',
    machine: GODWIT,
    faults: { injectors: [1, 1.08] },
    diagnosis: 'rich cylinder',
    cures: ['injectors'],
    looks: [
      ranThrough('small openings, where the loop holds the mean of both', { stop: [4, 13], rpm: [2600, 3400] }),
      ranThrough('half open, both cylinders at the same points', HALF_OPEN),
      ranThrough('wide open, both cylinders', WIDE_OPEN),
      measuredAfter('half open once more after it was mended', HALF_OPEN),
    ],
    expert: [
      'A wideband for each cylinder, and the two compared at the same node: one is near 8 % richer everywhere, which no breathing explains.',
      'The mean of both in the held zone is 1.00: the loop hides it by making the other cylinder lean.',
      'Matched injectors put it right; a trim for the one cylinder does so as well, and comes off again when the injectors are matched.',
    ],
  },
  {
    id: 'nothing-takes',
    title: 'Restless in town',
    brief:
      'A Curlew 437, well kept. The last workshop tried this and that in the table, and put back the one it came with.',
    complaint: 'Hunts a little at a steady 4,000 rpm in town.',
    fitted: 'Nothing; as it left the factory',
    machine: curlew({ loop: [{ fromRpm: 2300, toRpm: 5200, mostPlate: 22 }] }),
    faults: {},
    diagnosis: 'held zone',
    cures: [],
    looks: [
      ranThrough('the small opening at which it hunts, over the whole zone and out of it', {
        stop: [4, 22],
        rpm: [2600, 5600],
      }),
      ranThrough('the same once more: it repeats', { stop: [4, 22], rpm: [2600, 5000] }, 2),
      ranThrough('an opening where no loop works', HALF_OPEN),
    ],
    expert: [
      'Small openings up to 5,000 rpm sit at 1.00 with a small ripple, whatever the table says, and the short-term trim moves there: closed loop.',
      'Above and beyond the zone the mixture is on target: there is nothing to correct.',
      'More fuel in a held zone is taken out again by the loop, and bites only when the loop is off. The right change is none.',
    ],
  },
  {
    id: 'lean-low-down',
    title: 'A second opinion',
    brief:
      'A Curlew 437 that was tuned last year and was right then. It has been serviced since, and got new tyres. A friend measured it and says the table must be done again.',
    complaint: 'None; it runs as it always did.',
    fitted: 'Nothing since it was tuned',
    machine: curlew(),
    faults: { leak: 900 },
    diagnosis: 'air leak',
    cures: ['joints'],
    looks: [
      ranThrough('small openings, where the loop holds lambda 1', HELD_PART),
      ranThrough('wide open to the top, where much gas flows', WIDE_OPEN),
      measuredAfter('small openings once more after it was mended', HELD_PART),
    ],
    expert: [
      'The departure falls with flow: large at small openings and low speed, next to nothing wide open at the top. A table error has no reason to do that.',
      'The held zone reads clearly above 1.00, while the controller’s own sensor holds 1.00: the gauge sees air that the engine never had.',
      'Seal the joint, measure again, and change nothing. Fuel put in for a leak makes the machine rich.',
    ],
  },
  {
    id: 'rough-at-the-top',
    title: 'Rough on the straight',
    brief: 'A Curlew 437 with 14,000 km. A friend looked at a log of it and has advice to give.',
    complaint: 'Rough and down on power near the top with the throttle wide open.',
    fitted: 'Nothing; as it left the factory',
    machine: curlew(),
    faults: { misfire: { fromRpm: 6300, toRpm: 8200, fromPlate: 55, share: 0.22 } },
    diagnosis: 'misfire',
    cures: ['plugs'],
    looks: [
      ranThrough('wide open through the band, twice: it repeats', AT_THE_TOP, 2),
      ranThrough('the same speeds half open', HALF_AT_THE_TOP),
      measuredAfter('wide open once more after it was mended', AT_THE_TOP),
    ],
    expert: [
      'Lambda scatters two or three times as much in the band as outside of it: charges that do not burn pass their oxygen on, cycle by cycle.',
      'Torque falls in the same band. A mixture that is a little lean does not cost that much.',
      'New plugs first. Fuel put in for a misfire makes it worse and fouls the next plug.',
    ],
  },
  {
    id: 'runs-out',
    title: 'Short of breath',
    brief: 'A Curlew 437 that was ridden little in the last years. It pulls well up to about 7,000 rpm wide open.',
    complaint: 'Nothing more comes near the top, wide open.',
    fitted: 'Nothing; a fresh tank of fuel',
    machine: curlew(),
    faults: { pump: 2380 },
    diagnosis: 'weak pump',
    cures: ['pump'],
    looks: [
      ranThrough('wide open as far as it goes', { stop: [88, 101], rpm: [4000, 6500] }),
      ranThrough('the same speeds half open', HALF_AT_THE_TOP),
      measuredAfter('wide open to the top once more after it was mended', AT_THE_TOP),
    ],
    expert: [
      'Lean only where most fuel is used, and the more so the more is used: wide open and high speed. Half open at the same speed is on target.',
      'A richer table changes nothing there: the fuel is asked for and does not come. That pass is one too many; do not repeat it at full load.',
      'Lean at full load is how pistons are lost: stop, measure fuel pressure under load, fit the pump.',
    ],
  },
  {
    id: 'worse-each-pass',
    title: 'Two workshops later',
    brief:
      'On this Godwit 712 each cylinder has a trim of its own. Two workshops corrected it pass by pass, and neither was pleased.',
    complaint: 'Rough all over.',
    fitted: 'As it left the factory, but for the trims',
    machine: { ...GODWIT, engine: GODWIT_712, firstTrims: 'matched' },
    faults: { wiring: [1, 0] },
    diagnosis: 'swapped wires',
    cures: ['wires'],
    looks: [
      ranThrough('half open, both cylinders', HALF_OPEN),
      ranThrough('half open again: what a change of one trim did to both', HALF_OPEN, 2),
      measuredAfter('half open once more after it was mended', HALF_OPEN),
    ],
    expert: [
      'Change the trim of one cylinder in one place by a known amount and measure: the other one answers.',
      'After an honest correction the departures have doubled instead of going away, with opposite signs: each correction went to the neighbour.',
      'Put the wires right, restore what was there first, and measure again before anything is corrected.',
    ],
  },
  {
    id: 'rich-everywhere',
    title: 'Before a long tour',
    brief: 'An untouched Curlew 437. Your own gauge is away; the one at the rig was borrowed this morning.',
    complaint: 'None; the owner wants it looked over before a long tour.',
    fitted: 'Nothing; as it left the factory',
    machine: curlew(),
    faults: { gauge: ethanolBlendAfr(30) / ethanolBlendAfr(5) },
    diagnosis: 'gauge scale',
    cures: ['gauge'],
    looks: [
      ranThrough('small openings, where the loop holds lambda 1', HELD_PART),
      ranThrough('wide open: the same share there', WIDE_OPEN),
      measuredAfter('small openings once more with the gauge set right', HELD_PART),
    ],
    expert: [
      'The same share everywhere is no engine: breathing, wear and wiring all depend on speed or load.',
      'The held zone should read 1.00 and reads near 0.92: the controller’s sensor and the gauge disagree by just that share.',
      'Set the gauge right and measure again. Leaning by what it said would have made every cell 8 % lean, wide open as well.',
    ],
  },
  {
    id: 'like-a-switch',
    title: 'All or nothing',
    brief: 'A Dunnock 498 whose plates are moved by a motor. The owner had "the lively mode" put in by somebody.',
    complaint: 'Takes hold like a switch out of every bend; nobody can ride it smoothly in the wet.',
    fitted: 'Nothing; another plate table',
    machine: dunnock({ plates: [RUSHING_PLATE] }),
    faults: {},
    diagnosis: 'rushing plate',
    cures: [],
    looks: [
      ranThrough('a small grip through the range, with grip and plate logged', { stop: [5, 30], rpm: [3500, 6500] }),
      ranThrough('half open, for torque by plate', HALF_OPEN),
      ranThrough('wide open: what full is', WIDE_OPEN),
    ],
    expert: [
      'Grip and plate laid over each other: in the first tenth the plate opens three times as far as the hand. Torque is nearly all there at a third of the grip.',
      'The mixture is on target at every stop, and it settles at once after an opening: there is no fuel to correct.',
      'A plate table that makes torque straight with the grip, first tried on the stand. The first third never steeper than before.',
    ],
  },
  {
    id: 'gulps-air',
    title: 'A gulp before it goes',
    brief: 'A Dunnock 498 just out of another workshop. Every steady point was measured there and is right.',
    complaint: 'Opened quickly it hesitates for a blink, then goes well.',
    fitted: 'New intake rubbers, a little longer than the old ones',
    machine: dunnock({ film: { share: 0.2, tau: 0.2 }, acceleration: accelerationFuel(2, 0.2) }),
    faults: {},
    diagnosis: 'lean tip-in',
    cures: [],
    looks: [
      ranThrough('half open through the range: steady first', HALF_OPEN),
      ranThrough('wide open through the range', WIDE_OPEN),
      ranThrough('roll-ons to part throttle, three of them', { stop: [10, 101], rpm: [3200, 3800] }, 3),
    ],
    expert: [
      'Steady sweeps are on target. Aligned at the opening, lambda jumps lean by a tenth and comes back over half a second: the film on the port wall takes what is injected.',
      'A steady table made richer would hide it and be wrong everywhere else.',
      'More fuel as the plate opens, by speed and by how quickly it opens; its decay fits the film already.',
    ],
  },
  {
    id: 'stumbles-in-town',
    title: 'Uneven in town',
    brief: 'A Dunnock 498. Somebody fuelled it generously; at slow speed in town it is as it was.',
    complaint: 'A bump around 4,400 rpm at small openings, up and down.',
    fitted: 'Nothing; as it left the factory',
    machine: dunnock({ spoilt: generous }),
    faults: {},
    diagnosis: 'rough loop exit',
    cures: [],
    looks: [
      ranThrough('a small opening through the edge of the zone', { stop: [4, 13], rpm: [3600, 5400] }),
      ranThrough('the same once more: it repeats', { stop: [4, 13], rpm: [3600, 5400] }, 2),
      ranThrough('half open, where no loop works', HALF_OPEN),
    ],
    expert: [
      'Up to 4,400 rpm the loop holds lambda 1 whatever is in the table; above, the table shows: 7 % richer at once.',
      'The step is felt as torque, both ways. In the zone nothing can be seen of the generous table.',
      'Correct the open cells, and taper what is left above the edge to 2 % per 500 rpm.',
    ],
  },
]
