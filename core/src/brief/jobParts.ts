import type { JobChange } from '../contract/job'

/** What the parts of a job are called in its logbook. */
export const JOB_PARTS: Readonly<Record<keyof Omit<JobChange, 'override'>, string>> = {
  title: 'title',
  archived: 'archive',
  machine: 'machine',
  fuel: 'fuel in the tank',
  gaugeScale: 'scale of the gauge',
  use: 'use',
  complaint: 'complaint as it was told',
  fitted: 'what was fitted',
  changed: 'what was changed on exhaust and intake',
  twoStates: 'parts ridden in two states',
  limits: 'limits of the machine',
  fuelSold: 'fuel as sold here',
  tuner: 'who does the work',
  workshop: 'the workshop',
  rider: 'the rider',
  identity: 'what identifies the machine',
  service: 'level of service',
  rigging: 'how it is rigged',
  mixture: 'target and filters',
  plan: 'plan',
  power: 'figures of power',
  jetting: 'carburettor',
  spark: 'spark',
}
