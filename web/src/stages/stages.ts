import type { Component } from 'vue'

/** A stage of the work, in its order. */
export interface Stage {
  id: 'brief' | 'rig' | 'baseline' | 'mixture' | 'change' | 'spark' | 'response' | 'hand-over'
  title: string
  about: string
  view: () => Promise<Component>
}

export const STAGES: readonly Stage[] = [
  {
    id: 'brief',
    title: 'Brief',
    about: 'The machine, what was fitted, what the rider complains of.',
    view: () => import('./brief/BriefStage.vue'),
  },
  {
    id: 'rig',
    title: 'Rig',
    about: 'Rigging the machine, and what has to be put back.',
    view: () => import('./rigging/RigStage.vue'),
  },
  {
    id: 'baseline',
    title: 'Baseline',
    about: 'The runs, laid over each other.',
    view: () => import('./baseline/BaselineStage.vue'),
  },
  {
    id: 'mixture',
    title: 'Mixture',
    about: 'The mixture over rpm and throttle.',
    view: () => import('./mixture/MixtureStage.vue'),
  },
  {
    id: 'change',
    title: 'Change',
    about: 'The fuel table or the carburettor, and its correction.',
    view: () => import('./ChangeFrame.vue'),
  },
  {
    id: 'spark',
    title: 'Spark',
    about: 'Advance from torque.',
    view: () => import('./spark/SparkStage.vue'),
  },
  {
    id: 'response',
    title: 'Response',
    about: 'Roll-ons, the loop exit, the overrun, and from grip to plate.',
    view: () => import('./ResponseFrame.vue'),
  },
  {
    id: 'hand-over',
    title: 'Hand-over',
    about: 'The report, what is still open, and handing over.',
    view: () => import('./handover/HandOverStage.vue'),
  },
]
