import type { Component, InjectionKey } from 'vue'

/** What makes the roll-ons that are left of a plan, where there is something that can: it takes the plan. */
export const RUNS_THE_PLAN: InjectionKey<Component> = Symbol('runs the plan')
