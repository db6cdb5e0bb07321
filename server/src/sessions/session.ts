import type {
  ControllerWays,
  BenchNews,
  Refusal,
  RigControls,
  RigSample,
  RunInfo,
  RunScript,
  SafetyLimits,
  SafetyStop,
} from '@yuzumix/core'
import type { ControllerTable, RigLink } from '../rigs/rigLink'

/** What watchers hear; `end` when the bench is let go. */
export type Hear = (what: { sample?: RigSample; news?: BenchNews; end?: true }) => void

/** Contents of a controller: its tables, and the settings beside them. */
export interface Inside {
  tables: ControllerTable[]
  ways: ControllerWays
}

/** A rig connected to a job: several watch, one drives, runs land in the job as they end. */
export interface BenchSession {
  readonly id: string
  readonly job: string
  readonly link: RigLink
  news(): BenchNews
  listen(hear: Hear): () => void
  /** Takes the wheel. @throws Refusal 'bench' when somebody else has it */
  drive(client: string): void
  /** Lets go of it; a run under way is stopped and what there is of it kept, marked as cut. */
  letGo(client: string): Promise<void>
  /** Refuses an act of somebody who does not drive while somebody else does. @throws what the gate refuses, */
  needsNobodyElse(client: string | undefined): void
  /** Keeps what the gate refused here. */
  noteRefused(refusal: Refusal): Promise<void>
  /** @param why what can hurt is done all the same @throws what the gate refuses, */
  set(client: string, controls: Partial<RigControls>, why?: string): Promise<void>
  /** Changes what stops a run; not while one is under way. @throws what the gate refuses, for one that lets more pass, and nobody says why */
  limit(client: string, limits: Partial<SafetyLimits>, why?: string): Promise<void>
  /** Takes what the job wants now as what lean is told against. */
  readAim(): Promise<void>
  /** what is in the controller since the last run that was kept, or since the bench was connected: what a write is judged against */
  measured(): Promise<Inside>
  /** rpm of the latest reading */
  latestRpm(): number
  /** Tells watchers that something about the rig is new. */
  refresh(): void
  /** Starts a script, aiming at what the job wants now. @throws Refusal 'bench' when one is under way; what the gate refuses */
  run(client: string, script: RunScript, name?: string, why?: string): Promise<void>
  /** Records by hand until told to stop. */
  record(client: string, why?: string): Promise<void>
  /** Ends what is under way. The run so far is kept. */
  stop(client: string | null, stop: SafetyStop): Promise<RunInfo | null>
  /** Stores what could not be stored before. @throws what keeps it from being stored */
  storeAgain(): Promise<void>
  /** Ends what is under way, and sees that nothing waits to be stored. @throws what keeps it from being stored: close nothing then */
  settle(): Promise<void>
  /** Lets go; once it is settled. */
  close(): Promise<void>
}
