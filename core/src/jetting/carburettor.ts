import type { JetScheme } from './model/jetSizes'
import { jetArea } from './model/jetSizes'
import { chokingNeedle, type Needle } from './model/needle'

export const CARBURETTOR_KINDS = ['slide', 'constant-vacuum', 'metering rods', 'two screws'] as const
/** Kinds of carburettor: a slide on the cable, a piston that vacuum lifts, metering rods in fixed jets, a high and a low screw. */
export type CarburettorKind = (typeof CARBURETTOR_KINDS)[number]

export const SLOTS = ['main', 'needle', 'clip', 'pilot', 'screw', 'cutaway', 'spring', 'rod', 'high', 'low'] as const
/** A place where something is fitted or set. */
export type Slot = (typeof SLOTS)[number]

/** What is fitted in one carburettor: jets by number, needle and rod by name, clip from 1 at the top, screws in turns. */
export interface Fitted {
  main?: number
  needle?: string
  clip?: number
  pilot?: number
  /** turns out; a fuel screw richens as it is turned out, an air screw leans */
  screw?: number
  /** mm */
  cutaway?: number
  /** vacuum that it balances, kPa (rods), or its strength against the usual one, 1 for usual (constant vacuum) */
  spring?: number
  rod?: string
  high?: number
  low?: number
  /** mm; recorded, and no part of the model: a wrong level is mended, not jetted round */
  floatHeight?: number
}

/** A metering rod: its diameter at the cruise and at the power step, mm. */
interface Rod {
  name: string
  cruise: number
  power: number
}

/** What cannot be changed of a carburettor, and how its parts are numbered. */
export interface Body {
  kind: CarburettorKind
  scheme: JetScheme
  /** mm of bore, and of the needle jet's */
  bore: number
  needleJet: number
  /** grooves for the clip, and mm from one to the next */
  clips: number
  groove: number
  /** whether the idle screw lets in fuel or air */
  screwIs: 'fuel' | 'air'
  /** usual turns of the screw, about which its effect is told */
  usualTurns: number
}

export const DEFAULT_BODY: Body = {
  kind: 'slide',
  scheme: 'diameter',
  bore: 28,
  needleJet: 2.6,
  clips: 5,
  groove: 0.9,
  screwIs: 'air',
  usualTurns: 1.5,
}

/** What lies in the box: sizes at hand by slot. */
export interface Box {
  main: number[]
  pilot: number[]
  needles: Needle[]
  cutaway: number[]
  springs: number[]
  rods: Rod[]
}

export const EMPTY_BOX: Box = { main: [], pilot: [], needles: [], cutaway: [], springs: [], rods: [] }

/** Slots of a kind, in the order in which they bear on more and more throttle. */
export const SLOTS_OF: Record<CarburettorKind, readonly Slot[]> = {
  slide: ['pilot', 'screw', 'cutaway', 'clip', 'needle', 'main'],
  'constant-vacuum': ['pilot', 'screw', 'spring', 'clip', 'needle', 'main'],
  'metering rods': ['screw', 'rod', 'spring', 'main'],
  'two screws': ['low', 'high'],
}

/** What is wrong with what is said to be fitted, in words; null when it can be. */
export function fittedFault(body: Body, box: Box, fitted: Fitted): string | null {
  for (const slot of SLOTS_OF[body.kind]) {
    const value = fitted[slot]
    if (value === undefined) return `Say what is fitted as ${SLOT_NAMES[slot]}.`
    if (typeof value === 'number' && !Number.isFinite(value)) return `The ${SLOT_NAMES[slot]} is no number.`
  }
  const { clip, needle, rod } = fitted
  if (clip !== undefined && !(Number.isInteger(clip) && clip >= 1 && clip <= body.clips))
    return `There is no clip position ${clip}: this needle has ${body.clips} grooves, 1 at the top.`
  if (needle !== undefined && !box.needles.some((one) => one.name === needle))
    return `The needle "${needle}" is not in the list of needles. Enter its diameters.`
  if (rod !== undefined && !box.rods.some((one) => one.name === rod))
    return `The rod "${rod}" is not in the list of rods. Enter its diameters.`
  return null
}

/** A needle of the box that would rule full throttle, in words; null for none. */
export function chokingNeedleIn(body: Body, { needles, main }: Pick<Box, 'needles' | 'main'>): string | null {
  if (!SLOTS_OF[body.kind].includes('needle')) return null
  const jet = main.length ? jetArea(Math.min(...main), body.scheme) : null
  for (const needle of needles) {
    const fault = chokingNeedle(needle, body, jet)
    if (fault) return fault
  }
  return null
}

export const SLOT_NAMES: Record<Slot, string> = {
  main: 'main jet',
  needle: 'needle',
  clip: 'clip',
  pilot: 'pilot jet',
  screw: 'idle screw',
  cutaway: 'slide cutaway',
  spring: 'spring',
  rod: 'metering rod',
  high: 'high screw',
  low: 'low screw',
}

/** The circuit that a slot belongs to; none for what moves no fuel by itself. */
export const CIRCUIT_OF: Partial<Record<Slot, 'pilot' | 'needle' | 'main'>> = {
  pilot: 'pilot',
  screw: 'pilot',
  low: 'pilot',
  needle: 'needle',
  clip: 'needle',
  main: 'main',
  high: 'main',
  rod: 'main',
}
