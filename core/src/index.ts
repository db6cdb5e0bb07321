export * from './air/corrections'
export * from './air/standardAtmosphere'
export * from './air/weather'
export {
  FLAT_AIM,
  measuredFlatness,
  provePrediction,
  type MeasuredFlatness,
  type OffNode,
  type Proof,
} from './rig/flatness'
export {
  alarmsOf,
  DEFAULT_AIM,
  DEFAULT_SAFETY,
  LEAST_BATTERY,
  safetyWatch,
  type LeanAim,
  type SafetyLimits,
  type Stop as SafetyStop,
} from './rig/safety'
export {
  kindOfScript,
  nameOfScript,
  isStepped,
  scriptDriver,
  type RunScript,
  type ScriptDriver,
  type ScriptState,
} from './rig/script'
export { applyFactor, cellChange, changeCell, factorBetween, fuelOfCell } from './change/applyFactor'
export type { TableHistory } from './change/history'
export {
  dependsOnLean,
  largeSteps,
  largeStepsText,
  largeStepText,
  RICHEST_STEP,
  type LargeStep,
  type StepGround,
} from './change/largeSteps'
export * from './change/limits'
export { cellsSince, fuelSince, type TableSince } from './change/sinceMeasured'
export * from './change/suggest'
export { counted, grouped, plain, signed } from './numbers/format'
export { estimateField, summariseField, workOutField, type FieldWork } from './field/estimate'
export { explainNode, runTraces, type NodeExplanation, type NodeRun, type RunTrace } from './field/explain'
export * from './field/field'
export { EVIDENCE, type Evidence } from './field/evidence'
export type { HeldZone } from './field/heldZones'
export { heldZonesOfRuns } from './field/zonesOfRuns'
export { estimateLag, ASSUMED_LAG, type LagEstimate } from './field/lag'
export { median } from './numbers/median'
export * from './field/target'
export { blendAfr, ethanolBlendAfr, fuelById, FUELS, USUAL_RON, type Fuel } from './fuel/fuels'
export { flatteredBanks, type Flattered } from './fuel/flattered'
export * from './fuel/mixture'
export { stoichiometricAfr } from './fuel/stoichiometry'
export * from './jetting/calibrate'
export * from './jetting/carburettor'
export { CHECKS, trustOf, type Check } from './jetting/checks'
export { densityCard, jetCorrection, nearestJet, type CardEntry, type JetCorrection } from './jetting/density'
export * from './jetting/idle'
export { jetArea, jetNumber, JET_SCHEMES, type JetScheme } from './jetting/jetSizes'
export { circuitShares, passages, rodsRiseAt, UNTOUCHED } from './jetting/model'
export { needleFault, type Needle } from './jetting/needle'
export {
  bankWarnings,
  OPENING_ROWS,
  openingReadings,
  zoneDepartures,
  type OpeningRow,
  type ZoneDeparture,
} from './jetting/openingReadings'
export { partsFromCsv, partsToCsv, PartsError } from './jetting/partsCsv'
export {
  JUDGED_OPENINGS,
  minutesOf,
  searchBox,
  unknownCircuits,
  type Proposal,
  type ProposalList,
} from './jetting/search'
export { tipInOf, type TipIn } from './jetting/tipIn'
export {
  CIRCUIT_TARGETS,
  judgeTipIn,
  targetAt,
  USUAL_TIP_IN,
  usualTargets,
  type CircuitTarget,
  type TipInTarget,
} from './jetting/targets'
export * from './job/fieldChoice'
export { jobTarget, leanAim } from './job/jobTarget'
export { fitsController, nameAsFound, workingTable } from './job/controllerTable'
export { madeOnNewest, measuredRevision, movedSince, revisionOf, type MadeOn } from './job/madeOn'
export * from './run/runColumns'
export { CHANNELS, CHANNEL_KINDS, channelKind, channelTitle, conversion } from './run/channels'
export { logReader, type LogReader } from './log/logReader'
export { missingChannels } from './log/mappedColumns'
export type { ReadChannel, ReadResult } from './log/settleColumns'
export { detectEncoding, type Encoding } from './log/encoding'
export { readLayout, uniqueHeaders, type LogLayout } from './log/head'
export { LogError, type LogFault } from './log/logError'
export * from './log/handReadings'
export { headerSignature, type ColumnMapping, type Mapping } from './log/recognise'
export {
  DEFAULT_FILTERS,
  REASONS,
  SENSOR_PLACES,
  type Filters,
  type Reason,
  type RpmBand,
  type RunColumns,
  type SensorPlace,
  type SetAside,
} from './run/run'
export { guessKind, RUN_KINDS, type RunKind } from './run/runKind'
export { screenRun } from './run/screen'
export * from './plan/choice'
export { cutToTime, makePlan, type Cut, type Plan, type PlanStep } from './plan/makePlan'
export { mostHelpful, type HelpfulRun } from './plan/mostHelpful'
export { tickPlan, type DoneRun, type StepTick } from './plan/tickPlan'
export { DEFAULT_COMPARE, type Comparison, type CompareOptions } from './curves/compare'
export * from './curves/compareSides'
export { conditionsOf, correctSet, type Conditions, type Mismatch } from './curves/conditions'
export { DEFAULT_CURVE, type Curve, type CurveOptions } from './curves/curve'
export { doneRuns } from './plan/doneRuns'
export { runFault, type MeasuredRun } from './run/runFault'
export { FACT_CHANNELS, runFacts, type FactColumns, type RunFacts } from './run/facts'
export { type Gain } from './curves/gains'
export { type Hole } from './curves/holes'
export { DEFAULT_DRUM, TorqueError, TORQUE_SOURCES, type Drum, type TorqueSource } from './curves/measuredTorque'
export { overlay, rulerOver, type OddRun, type Overlay } from './curves/overlay'
export * from './curves/powerUnits'
export { stopsOf, stopName, type Stop } from './run/stops'
export { QUANTITIES, type Quantity, type Spread } from './curves/quantity'
export { binRpm, rulerRpm, type CurveRuler } from './curves/ruler'
export { CellsError, cellsToText } from './table/cells'
export { readNumber, readNumbers } from './numbers/typed'
export { tableFromCsv, tableFromRows, tableToCsv, tableToRows } from './table/csv'
export { defaultBreakpoints } from './table/defaultBreakpoints'
export { tableDigits } from './table/tableDigits'
export { readEntry, takeEntry, type CellEntry } from './table/cellEntry'
export { pasteCells, type Pasted } from './table/paste'
export { bridgeCells, extendCells, type Bridged } from './table/bridge'
export * from './table/edits'
export { checkTable, tableFromJson, tableToJson, TableError, TABLE_FORMAT } from './table/json'
export { interpolate, locate, nearest } from './table/lookup'
export * from './table/table'
export {
  AVOCET_312,
  DUNLIN_208,
  CONTROLLER_GRID,
  CURLEW_437,
  emptyTrim,
  GODWIT_712,
  OPEN_LID,
  OPEN_SILENCER,
  rigFor,
  STOCK_BREATHING,
} from './simulator/machines'
export type { Calibration } from './simulator/controller'
export { DEFAULT_LIVE, liveRig, type LiveRig } from './simulator/liveRig'
export { RESTING, type Brake, type RigControls } from './rig/controls'
export type { RigSample } from './rig/sample'
export { loopStep, passField, passNumber, passSets, proveStep, type LoopStep } from './rig/loopStep'
export { rigOf, SIMULATED_MACHINES, type SimulatedMachine } from './simulator/machinesById'
export { sound, type RigFaults } from './simulator/faults'
export {
  calibrationFault,
  isCalibrated,
  lambdaFromShown,
  OXYGEN_PCT,
  plateFromVolts,
  UNCALIBRATED,
  UNCALIBRATED_WARNINGS,
  uncalibratedIn,
  type SensorCalibration,
} from './rig/sensors'
export { runSweep, steadyLambda, type Rig, type RigRun, type SweepScript } from './simulator/rig'
export { faultsAfter, WORKSHOP_ACTS, type WorkshopAct } from './trainer/acts'
export { TRAINER_CASES, type TrainerCase } from './trainer/cases'
export { DIAGNOSES, type Diagnosis } from './trainer/diagnoses'
export { trueFlatness, type Flatness } from './trainer/flatness'
export type { Look, LookedRun } from './trainer/looks'
export { scoreAttempt, type Attempt, type ScoreLine } from './trainer/score'
export { unsafeWatch, type UnsafeStep } from './trainer/unsafe'
export { type SparkBin, type SparkRun } from './spark/bin'
export { DEFAULT_SPARK_SETTINGS, type SparkPlanChoice, type SparkSettings } from './spark/choice'
export { AT_LOAD, rechecks, staleMixture, type MadeRun, type Recheck, type Stale } from './spark/coupling'
export { judgeBin, type JudgedBin, type JudgeOptions } from './spark/judge'
export { fitMixture, lossAt, mixtureBins, type MixtureBin, type MixtureFit } from './spark/mixtureSweep'
export { oneKnob, RANGE_USES, type OneKnob, type RangeUse } from './spark/oneKnob'
export { valueAt, type Parabola } from './numbers/parabola'
export { proveSpark, type SparkProof } from './spark/proof'
export { advanceOf, settingsOfSweeps, type SettingRun, type SparkSetting } from './spark/setting'
export {
  safeOffsets,
  sparkPlan,
  STOP_RULES,
  tickSparkPlan,
  type SparkPlan,
  type SparkPlanStep,
} from './spark/sparkPlan'
export { presentReadings, stepBins, type PresentReading } from './spark/stepBins'
export {
  DEFAULT_SPARK_LIMITS,
  suggestSpark,
  type SparkArithmetic,
  type SparkLimits,
  type SparkNode,
  type SuggestedSpark,
} from './spark/suggestSpark'
export { sweepBins } from './spark/sweepBins'
export { verdictOf, type CompareVerdict } from './curves/verdict'
export * from './contract/air'
export * from './contract/archive'
export * from './contract/bench'
export { callOf, CALLS, type Call } from './contract/calls'
export { checkForm, checkInput, InputError, type FieldFault } from './contract/checkInput'
export * from './contract/compare'
export { archiveDocument, tableDocument } from './contract/documents'
export * from './contract/field'
export * from './contract/jetting'
export * from './contract/job'
export * from './contract/mixture'
export { openapi } from './contract/openapi'
export * from './contract/plan'
export * from './contract/problem'
export * from './contract/run'
export * from './contract/set'
export * from './contract/spark'
export * from './contract/table'
export * from './contract/trainer'
