// refusal
export type { Refused } from './refusal/codes'
export { type DangerKind, DANGERS } from './refusal/dangers'
export { type Fault, inputRefused, isRefusal, Refusal, refused, unlessRefused } from './refusal/refusal'

// numbers
export { mean } from './numbers/mean'
export { counted, grouped, plain, signed } from './numbers/format'
export { NINETY } from './numbers/ninety'
export { valueAt } from './numbers/parabola'
export { leastWithin, torqueAt } from './spark/advanceCurve'
export { sentence } from './numbers/sentence'
export { readNumber, readNumbers } from './numbers/typed'

// fuel
export { flatteredBanks } from './fuel/flattered'
export { fuelById, FUELS, USUAL_RON } from './fuel/fuels'
export { lambdaShown, percentFromFactor, USUAL_GAUGE_SCALE } from './fuel/mixture'

// air
export { correctionById, type CorrectionId, CORRECTIONS } from './air/corrections'
export { densityAltitude, standardAtmosphere } from './air/standardAtmosphere'
export { airDensity, dryPressure, vapourPressure, type Weather, WEATHER_LIMITS } from './air/weather'

// table
export { type CellEntry, readEntry, takeEntry } from './table/cellEntry'
export { cellsToText } from './table/cells'
export { defaultBreakpoints } from './table/defaultBreakpoints'
export {
  addToCells,
  editCells,
  evenOut,
  holdTop,
  keepSame,
  ordered,
  scaleCells,
  type Selection,
  straightLine,
} from './table/edits'
export { extendCells } from './table/extend'
export { actTogether, type InForce, inForceFault, RULED_BY } from './table/inForce'
export { isBaseFuel, kindOfTable, setsFuel, setsPlate, setsSpark, setsTarget } from './table/kinds'
export { interpolate, locate, nearest } from './table/lookup'
export { looksTurned, pasteCells } from './table/paste'
export { resample } from './table/resample'
export {
  build,
  breakpointFault,
  filled,
  type Grid,
  LOAD_UNITS,
  type LoadAxis,
  type SparseMatrix,
  type LoadGrid,
  type Matrix,
  rangeFault,
  sameGrid,
  shapeFault,
  type Table,
  type TableKind,
  valueLimits,
} from './table/table'
export { cellDigits, tableDigits } from './table/tableDigits'

// run
export { type LeftOutSpan, touchesWithout } from './run/leftOutByTime'
export { isRunning, isStanding } from './run/engineState'
export { alignChannels } from './run/alignChannels'
export { sweepName, sweepOf, sweepsAt } from './run/bySweep'
export { channelKind, CHANNELS, channelTitle, isOther, knownChannels } from './run/channels'
export {
  comparedOfRun,
  FACT_CHANNELS,
  type FactColumns,
  factsAsRead,
  factsOfClean,
  runFacts,
  type RunFacts,
  sweepsOfRun,
} from './run/facts'
export { highestRpm } from './run/highestRpm'
export { crossCheck, type ProbeCheck, standingProbes } from './run/probes'
export { type ReadAs, readAsWords } from './run/readAs'
export {
  DEFAULT_FILTERS,
  type Filters,
  REASONS,
  type RpmBand,
  type RunColumns,
  SENSOR_PLACES,
  type SensorPlace,
  type SetAside,
} from './run/run'
export { assembleRun, channelsFor, type ColumnPurpose, isLeftOut, knownBeside } from './run/runColumns'
export { leastMost, type Levels, levelsOf, rowsByColumn } from './run/levels'
export { firstFrom } from './run/firstFrom'
export { type SetAsideSpan, setAsideSpans } from './run/setAsideSpans'
export { cropped, type NamedStretch, stretchId } from './run/partOfRun'
export { type Pyramid, pyramidOf } from './run/pyramid'
export { readChannelAs } from './run/readAs'
export { type Stretch, stretchesOf } from './run/stretches'
export { runFault } from './run/runFault'
export type { ChannelInfo, LeftOut, RunInfo } from './run/runInfo'
export { guessKind, RUN_KINDS, type RunKind } from './run/runKind'
export { type Stop, stopName, stopsOf } from './run/stops'
export { outliersInWords, withoutOutliers } from './run/outliers'

// log
export { type LiveColumn, liveLines, type LiveReading } from './log/liveLines'
export { detectEncoding, type Encoding } from './log/encoding'
export { type HandColumns, handColumns, type HandFault, type HandReading, readReading } from './log/handReadings'
export { type LogLayout, readLayout } from './log/head'
export { logReader, type LogReader } from './log/logReader'
export { missingChannels } from './log/mappedColumns'
export { headerSignature, type Mapping, withOthers } from './log/recognise'
export { scanLines } from './log/scanLines'
export { spreadSeconds } from './log/clockTime'
export type { ReadResult } from './log/settleColumns'

// field
export { cellAt } from './field/readings/cellAt'
export { cellSpans, type Span } from './field/readings/cellSpans'
export { estimateField, type FieldWork, summariseField, workOutField } from './field/estimate'
export { explainNode, type NodeExplanation, type RunTrace, runTraces } from './field/explain'
export { isMisfire, misfireWords } from './field/faults/misfires'
export { type CylinderField, DEFAULT_FIELD_OPTIONS, type Field, type FieldOptions } from './field/field'
export type { KeepPart } from './field/fieldOfPasses'
export { IDLE_LOAD } from './field/held/idleZones'
export { type HeldChoice, heldZonesOfRuns } from './field/held/zonesOfRuns'
export { type Straight, straightBetween, straightWords } from './field/straight'
export { TARGET_PRESETS, targetAt, targetOn, type TargetZone } from './field/target'

// curves
export { type RoadColumns, roadPower } from './curves/torque/roadPower'
export { type Comparison, DEFAULT_COMPARE } from './curves/compare/compare'
export { compareSides, type SidesChoice } from './curves/compare/compareSides'
export { type Conditions, conditionsOf, correctSet, type Mismatch } from './curves/compare/conditions'
export type { Gain } from './curves/compare/gains'
export type { Side } from './curves/compare/side'
export { verdictOf } from './curves/compare/verdict'
export { type CurveOptions, DEFAULT_CURVE } from './curves/lay/curve'
export type { Hole } from './curves/lay/holes'
export { oddRunWords } from './curves/lay/oddRunWords'
export { type OddRun, overlay, type Overlay, rulerOver } from './curves/lay/overlay'
export { binRpm, type CurveRuler, rulerRpm } from './curves/lay/ruler'
export { TORQUE_SOURCES } from './curves/torque/measuredTorque'
export type { Quantity } from './curves/torque/quantity'

// change
export { cellChange, changeCell, factorBetween } from './change/applyFactor'
export type { ArithmeticStep } from './change/arithmetic'
export type { TableHistory } from './change/history'
export {
  dependsOnLean,
  type LargeStep,
  largeSteps,
  largeStepsText,
  STEP_LIMITS,
  type StepGround,
} from './change/largeSteps'
export { type ChangeLimits, DEFAULT_LIMITS } from './change/limits'
export { servedCylinder } from './change/need'
export { changeShape } from './change/shape'
export { correctedOn, type TableSince } from './change/sinceMeasured'
export { type NodeChange, predictLambda, suggestChange, type SuggestedChange } from './change/suggest'

// spark
export { DEFAULT_SPARK_SETTINGS, type SparkPlanChoice, type SparkSettings } from './spark/choice'
export { AT_LOAD, type MadeRun, type Recheck, rechecks, type Stale, staleMixture } from './spark/coupling'
export { judgeBin, type JudgedBin } from './spark/judge'
export { fitMixture, lossAt } from './spark/mixtureSweep'
export { oneKnob, RANGE_USES, type RangeUse } from './spark/oneKnob'
export { type SparkProof } from './spark/proof'
export { advanceOf, settingsOfSweeps, type SparkSetting } from './spark/setting'
export {
  DEFAULT_SPARK_LIMITS,
  type SparkArithmetic,
  type SparkLimits,
  type SparkNode,
  type SuggestedSpark,
} from './spark/sparkChange'
export { safeOffsets, sparkPlan, type SparkPlanStep, STOP_RULES, tickSparkPlan } from './spark/sparkPlan'

// delivery
export type { FuelAnswered } from './delivery/answered'
export { answerWay, wholeOf } from './delivery/answerWay'
export type { Worst } from './delivery/left'
export type { Caution } from './delivery/cautions'
export { checkSettings } from './delivery/checkSettings'
export { checkWay } from './delivery/checkWay'
export { judgeWay } from './delivery/judgeWay'
export { cylinderTrims } from './delivery/perCylinder'
export { wantedOfField } from './delivery/wantedOfField'
export { effectOfWay, nameOfWay, tableOfWay } from './delivery/tableOfWay'
export { waySheet } from './delivery/waySheet'
export { typedSettings, type WayTaken } from './delivery/typedSettings'
export {
  type BesideSettings,
  type PointsTold,
  type SettingsOf,
  type ToldWay,
  type WayAsked,
  type WayKind,
  type WayTold,
  WAYS,
} from './delivery/ways'
export { HIGH_LOAD, knownSpan, type Wanted } from './delivery/wanted'

// response
export type { LoopExit } from './response/exits/loopExits'
export type { Snatch } from './response/exits/snatch'
export { exitWords, type HandNode, taperExits } from './response/exits/taperExits'
export { STEP as RESPONSE_STEP } from './response/film/tracedOpening'
export { askPlate } from './response/grip/askPlate'
export type { GripMap } from './response/grip/gripMap'
export { risingAt } from './response/grip/knotsAt'
export { type MadePlate, PLATE_SHAPES, type PlateShape } from './response/grip/plateTable'
export { torqueCurve } from './response/grip/torqueMap'
export { wholeMap } from './response/grip/wholeMap'
export { DEFAULT_RESPONSE, respond, type Response } from './response/response'
export { accelerationChange } from './response/rollOns/accelerationChange'
export type { Estimate } from './response/rollOns/excursion'
export type { Advice, RollOnGroup } from './response/rollOns/rollOnGroups'
export type { PlannedRollOn } from './response/rollOns/rollOnPlan'

// jetting
export {
  type Body,
  type Box,
  CARBURETTOR_KINDS,
  chokingNeedleIn,
  EMPTY_BOX,
  type Fitted,
  fittedFault,
  type Slot,
  SLOT_NAMES,
  SLOTS_OF,
} from './jetting/carburettor'
export { type Check, CHECKS, trustOf } from './jetting/checks'
export { fittedText } from './jetting/fittedText'
export {
  fitIdleMixture,
  fitIdlePeak,
  IDLE_SIDES,
  IDLE_WAYS,
  type IdleReading,
  type IdleSide,
  type IdleWay,
  sidesAgree,
} from './jetting/idle/idle'
export { calibrateJetting } from './jetting/model/calibrate'
export { cameTrue, isRead, type Predicted, predictJetting } from './jetting/model/predict'
export { densityCard, jetCorrection } from './jetting/model/density'
export { JET_SCHEMES, jetArea } from './jetting/model/jetSizes'
export { rodsRiseAt } from './jetting/model/model'
export { countedFrom, needleFault } from './jetting/model/needle'
export { CIRCUIT_TARGETS, type CircuitTarget, judgeTipIn, usualTargets } from './jetting/model/targets'
export { OPENING_ROWS, type OpeningRow, zoneDepartures } from './jetting/openingReadings'
export { partsFromCsv, partsToCsv } from './jetting/partsCsv'
export type { Proposal } from './jetting/search/proposal'
export { searchBox } from './jetting/search/search'

// plan
export { DEFAULT_PLAN, SERVICES, type PlanChoice, PLANNED_KINDS, PURPOSES, ORDERS } from './plan/choice'
export { doneRuns } from './plan/doneRuns'
export type { HelpfulRun } from './plan/helpfulRun'
export { mostRpm } from './plan/jobPlan'
export { cutToTime, makePlan, type PlanStep } from './plan/makePlan'
export { tickPlan } from './plan/tickPlan'

// checks
export type { Doubt, Ground } from './checks/doubt'
export { lookOver } from './checks/lookOver'

// rig
export { fitsController, nameAsFound, workingTable } from './rig/controllerTable'
export { RESTING, type RigControls } from './rig/controls'
export { FLAT_AIM, measuredFlatness, type OffNode } from './rig/flatness'
export { loopStep, passNumber, passSets, proveStep } from './rig/loopStep'
export { isStepped, kindOfScript, nameOfScript, type RunScript } from './rig/runScript'
export {
  alarmsOf,
  DEFAULT_AIM,
  DEFAULT_SAFETY,
  type LeanAim,
  LEAST_BATTERY,
  type SafetyLimits,
  safetyWatch,
  type Stop as SafetyStop,
} from './rig/safety'
export type { RigSample } from './rig/sample'
export { type ScriptDriver, scriptDriver, type ScriptState } from './rig/script'
export {
  calibrationFault,
  isCalibrated,
  lambdaFromShown,
  OXYGEN_PCT,
  plateFromVolts,
  type SensorCalibration,
  UNCALIBRATED,
  UNCALIBRATED_WARNINGS,
  uncalibratedIn,
} from './rig/sensors'

// simulator
export { type ControllerWays, neutralWays, USUAL_RAIL } from './simulator/controllerWays'
export type { Calibration } from './simulator/controller'
export { type RigFaults, sound } from './simulator/faults'
export { DEFAULT_LIVE, type LiveRig, liveRig } from './simulator/liveRig'
export {
  AVOCET_312,
  CURLEW_437,
  emptyTrim,
  GODWIT_712,
  OPEN_LID,
  OPEN_SILENCER,
  rigFor,
  STOCK_BREATHING,
} from './simulator/machines'
export { rigOf, SIMULATED_MACHINES, type SimulatedMachine } from './simulator/machinesById'
export { type Rig, type RigRun, runSweep, steadyLambda, type SweepScript } from './simulator/rig'

// trainer
export { faultsAfter, WORKSHOP_ACTS } from './trainer/acts'
export { TRAINER_CASES, type TrainerCase } from './trainer/cases'
export { DIAGNOSES, type Diagnosis } from './trainer/diagnoses'
export { type Flatness, trueFlatness } from './trainer/flatness'
export type { LookedRun } from './trainer/looks'
export { scoreAttempt } from './trainer/score'
export { type UnsafeStep, unsafeWatch } from './trainer/unsafe'

// gate
export type { Danger } from './gate/danger'
export { controlDangers, scriptDangers, WISH_DANGERS } from './gate/driving'
export { firstValues, overfilled } from './gate/firstValues'
export { historyDangers } from './gate/history'
export { leanTargets } from './gate/leanTargets'
export { loosenedLimits, loosenedMachine } from './gate/loosened'
export { madeLater } from './gate/madeLater'
export { openGates, openGateWords } from './gate/openGates'
export { asksForReason, type GateLine, isGateRefusal, passGate } from './gate/passGate'
export { needsState } from './gate/stateNotTold'
export { hardwareDangers, tableSteps } from './gate/tableSteps'
export { unprovenStart } from './gate/unproven'

// contract
export { namesSchema, type AccessState, type JoinCode, type Role, type Sharing } from './contract/access'
export { type Backup, type BackupKind, type Backups, BIN_DAYS, type BinnedJob } from './contract/backup'
export type { BesideAnswer } from './contract/beside'
export type { KeptPass, NewPass, Pass, PassChange, PassesMade, PassGear, StripDay } from './contract/strip'
export type { StretchChange } from './contract/stretch'
export type { RoadPowerRequest, RoadPowerTold } from './contract/road'
export type { TakeWay, WaysRequest } from './contract/ways'
export { type ArchivedJob, type ArchivedRun, archiveFormSchema, archiveSchema, JOB_FORMAT } from './contract/archive'
export {
  benchWayOf,
  type BenchFaults,
  type BenchMessage,
  benchMessageSchema,
  type BenchNews,
  type BenchState,
  type BenchWish,
  benchWishSchema,
  type CalibrationStep,
} from './contract/bench'
export type { BenchChoice, LinesChoice, SimulatedChoice } from './contract/benchChoice'
export { ALIKE, CHANGED_PARTS, type ChangedPart, type MachineLimits, type Rigging } from './contract/brief'
export type { Call } from './contract/calls/call'
export {
  ALL_CALLS,
  type AnsweredBy,
  type BodyOf,
  type CallName,
  callOf,
  CALLS,
  callsAt,
  changesMachine,
  type NamedCall,
  type NamesOf,
  problemsOf,
} from './contract/calls/calls'
export { checkForm, checkInput } from './contract/checkInput'
export { type ComparedAnswer, type CompareRequest } from './contract/compare'
export {
  type Complaint,
  COMPLAINT_WORDS,
  type ComplaintChange,
  FOUND,
  type FoundThere,
  type NewComplaint,
  RIDER_SAYS,
} from './contract/complaint'
export { archiveDocument, tableDocument } from './contract/documents'
export type { DoubtAnswer } from './contract/doubt'
export { type Entry, type NewEntry, newEntrySchema } from './contract/entry'
export { type FieldAnswer, type NextRunRequest } from './contract/field'
export {
  carburettorAxis,
  circuitTargets,
  DEFAULT_JETTING,
  type Fitting,
  type JettingSettings,
  tipInTarget,
} from './contract/jetting'
export {
  DEFAULT_POWER,
  type Job,
  type JobChange,
  jobChangeSchema,
  type NewJob,
  newJobSchema,
  USES,
} from './contract/job'
export { DUE, type NewPutBack, type PutBack, type PutBackChange, type RigLine } from './contract/jobLines'
export { DEFAULT_MIXTURE, type MixtureSettings } from './contract/mixture'
export type { JobNews, JobPart } from './contract/news'
export { openapi } from './contract/openapi'
export { problemSchema } from './contract/problem'
export type {
  Figure,
  FlatnessAnswer,
  RecordLine,
  Report,
  ReportPower,
  ReportState,
  SavedReport,
} from './contract/report'
export { type ResponseAnswer } from './contract/response'
export {
  checkMapping,
  checkSetting,
  type HandRequest,
  type RunChange,
  runFields,
  runFieldsOf,
  type RunsAdded,
  type RunsChange,
  uploadSchema,
} from './contract/run'
export { DEFAULT_SET, type NewSet, type RunSet, type SetChange, setChangeSchema, type SetFacts } from './contract/set'
export { type Shelf, type ShelfMatch } from './contract/shelf'
export {
  type NewRevision,
  type NewRevisions,
  type NewTable,
  type RevisionInfo,
  type TableChange,
  type TableInfo,
} from './contract/table'
export { tableFromCsv, tableFromRows, tableToCsv, tableToRows } from './contract/tableCsv'
export { checkTable, tableFromJson, type TableSaid, tableSaidSchema, tableToJson } from './contract/tableJson'
export { type OpenCase, type TrainingResult, type TrainingState } from './contract/trainer'
export type { Verdict } from './contract/verdict'

// brief
export { carriedOver } from './brief/carriedOver'
export { complaintName, placeWords } from './brief/complaintWords'
export { findingOf, placeFaults } from './brief/complaints'
export { JOB_PARTS } from './brief/jobParts'
export { retuneVerdict } from './brief/retuneVerdict'
export { ratioWords, rigList, rigMinutes } from './brief/rigList'
export { fuelWithEthanol, twoFuels } from './brief/twoFuels'

// shelf
export { checkRunsOf, likesOf, shelfDifference, shelfMatches } from './shelf/shelfMatch'
export { shelfPrior } from './shelf/shelfPrior'

// strip
export type { PassesCompared, StripDifference } from './strip/comparePasses'
export { markName, STRIP_MARKS, type StripRules, USUAL_RULES } from './strip/marks'
export { passGears } from './strip/passGears'
export { type FoundPass, passesIn } from './strip/passesIn'
export { type DayState, stripDay } from './strip/stripDay'

// question
export { besideAnswer, besideQuestion } from './question/besideQuestion'
export { namedRuns } from './question/fieldRuns'
export { askNextRun, type NextOfJob } from './question/askNextRun'
export { answerChange, changeAnswer, changeQuestion, type ChangeQuestion, measuredOn } from './question/changeQuestion'
export { compareQuestion, type SetLoader } from './question/compareQuestion'
export { fieldAnswer } from './question/fieldAnswer'
export { type FieldAsked, type FieldQuestion, fieldQuestion, workOfField } from './question/fieldQuestion'
export { fieldRuns, fieldSet, tellsMixture } from './question/fieldRuns'
export { answeredAnswer, type AnsweredQuestion, answeredQuestion } from './question/answeredQuestion'
export { flatnessAnswer } from './question/flatnessAnswer'
export type { ColumnsOf, JobGround, Loader } from './question/ground'
export {
  type FittingSet,
  fittingSets,
  type JettingPresent,
  type JettingQuestion,
  jettingQuestion,
} from './question/jettingQuestion'
export { jobTarget, leanAim } from './question/jobTarget'
export {
  type AnswerOf,
  answerQuestion,
  type QuestionKind,
  type QuestionOf,
  QUESTIONS,
  runsNeeded,
} from './question/kinds'
export { loopAnswer } from './question/loopAnswer'
export { loopQuestion, type LoopQuestion } from './question/loopQuestion'
export { foreignWarning, madeOnNewest, measuredRevision, revisionOf, type Untold, untoldRuns } from './question/madeOn'
export { mayHaveLoop } from './question/mayHaveLoop'
export { nextRunQuestion } from './question/nextRunQuestion'
export { planOf } from './question/planOf'
export { proposedSets } from './question/proposedSets'
export { plateAnswer, responseAnswer } from './question/responseAnswer'
export { type PlateQuestion, plateQuestion, responseQuestion } from './question/responseQuestion'
export { idleAnswer } from './question/idleAnswer'
export { sparkChangeAnswer } from './question/sparkChangeAnswer'
export { type SparkQuestion, sparkQuestion } from './question/sparkQuestion'
export { commandedTable, fuelTables, plainFuelTables, setByCell } from './question/states'
export {
  standingIn,
  tableWithWay,
  waysAnswer,
  waysQuestion,
  type WaysQuestion,
  type WaysTold,
} from './question/waysQuestion'

// words
export { heatWords } from './words/besideWords'
export { comparedWords, nextStepWords } from './words/stripWords'
export { commandedWords } from './words/commandedWords'
export { answeredWords } from './words/answeredWords'
export { inForceWords } from './words/inForceWords'
export { cautionWords } from './words/cautionWords'
export {
  differenceIn,
  figureIn,
  type ToldQuantity,
  unitOf,
  type Units,
  UNITS,
  unitsFrom,
  USUAL_UNITS,
} from './words/units'

// report
export { doubtFindings, fieldFindings, type Finding, oddFindings, SILENT_CAUSES } from './report/findings'
export { changedByZone } from './report/changedByZone'
export { openLines } from './report/openLines'
export { openPutBacks, USUAL_PUT_BACKS } from './report/putBack'
export { reportCautions } from './report/reportCautions'
export { curveWords, reportCurves } from './report/reportCurves'
export { type Answered, figureFrom, pointedAt } from './report/reportFigure'
export { reportHtml } from './report/reportHtml'
export { type ReportBlock, type ReportReader, reportText } from './report/reportText'
export { restoredStock } from './report/restoredStock'
