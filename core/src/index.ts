export { correctionById, type CorrectionId, CORRECTIONS } from './air/corrections'
export { standardAtmosphere, densityAltitude } from './air/standardAtmosphere'
export { vapourPressure, dryPressure, airDensity, type Weather, WEATHER_LIMITS } from './air/weather'
export { cellChange, changeCell, factorBetween } from './change/applyFactor'
export { type TableHistory } from './change/history'
export {
  dependsOnLean,
  largeSteps,
  STEP_LIMITS,
  largeStepsText,
  type LargeStep,
  type StepGround,
} from './change/largeSteps'
export { type ChangeLimits, DEFAULT_LIMITS } from './change/limits'
export { cellsSince, correctedOn, type TableSince } from './change/sinceMeasured'
export { changeShape } from './change/shape'
export type { ArithmeticStep } from './change/arithmetic'
export { servedCylinder } from './change/need'
export { suggestChange, predictLambda, type NodeChange, type SuggestedChange } from './change/suggest'
export { DANGERS, TABLE_STEPS, type Danger, type DangerKind } from './gate/danger'
export { controlDangers, scriptDangers, WISH_DANGERS } from './gate/driving'
export { firstValues } from './gate/firstValues'
export { historyDangers } from './gate/history'
export { leanTargets } from './gate/leanTargets'
export { loosenedLimits, loosenedMachine } from './gate/loosened'
export { madeLater } from './gate/madeLater'
export { GateRefusal, passGate, type GateLine } from './gate/passGate'
export { openGates, openGateWords } from './gate/openGates'
export { needsState } from './gate/stateNotTold'
export { hardwareDangers, tableSteps } from './gate/tableSteps'
export { unprovenStart } from './gate/unproven'
export type { Doubt, Ground } from './checks/doubt'
export { lookOver } from './checks/lookOver'
export { weatherSchema } from './contract/air'
export { JOB_FORMAT, archiveFormSchema, archiveSchema, type ArchivedJob, type ArchivedRun } from './contract/archive'
export {
  benchSchema,
  type BenchChoice,
  benchFaultsSchema,
  type BenchFaults,
  benchWriteSchema,
  reasonedSchema,
  CALIBRATION_STEPS,
  type CalibrationStep,
  type BenchNews,
  type BenchState,
  benchWishSchema,
  type BenchWish,
  benchMessageSchema,
  type BenchMessage,
} from './contract/bench'
export {
  ALL_CALLS,
  callOf,
  CALLS,
  callsAt,
  changesMachine,
  problemsOf,
  type AnsweredBy,
  type BodyOf,
  type CallName,
  type NamedCall,
  type NamesOf,
} from './contract/calls/calls'
export type { Call } from './contract/calls/call'
export { checkForm, checkInput, InputError } from './contract/checkInput'
export { compareRequestSchema, type CompareRequest, type ComparedAnswer } from './contract/compare'
export { archiveDocument, tableDocument } from './contract/documents'
export { type DoubtAnswer } from './contract/doubt'
export {
  fieldRequestSchema,
  nextRunRequestSchema,
  type FieldRequest,
  type NextRunRequest,
  changeRequestSchema,
  type ChangeRequest,
  type FieldAnswer,
} from './contract/field'
export {
  tipInTarget,
  carburettorAxis,
  circuitTargets,
  type JettingSettings,
  DEFAULT_JETTING,
  jettingRequestSchema,
  type Fitting,
} from './contract/jetting'
export {
  USES,
  DEFAULT_POWER,
  newJobSchema,
  jobChangeSchema,
  type NewJob,
  type JobChange,
  type Job,
} from './contract/job'
export { type MixtureSettings, DEFAULT_MIXTURE } from './contract/mixture'
export { openapi } from './contract/openapi'
export { type ProblemFault, problemSchema } from './contract/problem'
export {
  runFieldsOf,
  checkMapping,
  runFields,
  readAsRequestSchema,
  runChangeSchema,
  runsChangeSchema,
  madeOnAnswerSchema,
  type RunChange,
  type RunsChange,
  handReadingsSchema,
  type HandRequest,
  uploadSchema,
  columnsRequestSchema,
} from './contract/run'
export {
  newSetSchema,
  setChangeSchema,
  type NewSet,
  type SetChange,
  type RunSet,
  type SetFacts,
  DEFAULT_SET,
} from './contract/set'
export {
  tableChangeSchema,
  type TableChange,
  type RevisionInfo,
  type TableInfo,
  newTableSchema,
  type NewTable,
  newRevisionSchema,
  newRevisionsSchema,
  type NewRevision,
  type NewRevisions,
} from './contract/table'
export {
  trainerBenchSchema,
  workshopSchema,
  diagnosisSchema,
  type OpenCase,
  type TrainingResult,
  type TrainingState,
} from './contract/trainer'
export { DEFAULT_COMPARE, type Comparison } from './curves/compare/compare'
export { CompareError } from './curves/compare/compareError'
export { compareSides, type ComparedSides, type SidesChoice } from './curves/compare/compareSides'
export { conditionsOf, correctSet, type Conditions, type Mismatch } from './curves/compare/conditions'
export { DEFAULT_CURVE, type CurveOptions } from './curves/lay/curve'
export { type Gain } from './curves/compare/gains'
export { type Hole } from './curves/lay/holes'
export { TORQUE_SOURCES } from './curves/torque/measuredTorque'
export { warmUpIds } from './curves/lay/warmUpIds'
export { overlay, rulerOver, type OddRun, type Overlay } from './curves/lay/overlay'
export { type Side, type SideFacts } from './curves/compare/side'
export { type Quantity } from './curves/torque/quantity'
export { binRpm, rulerRpm, type CurveRuler } from './curves/lay/ruler'
export { verdictOf } from './curves/compare/verdict'
export { estimateField, summariseField, workOutField, type FieldWork } from './field/estimate'
export { zonesBefore } from './field/held/zonesBefore'
export { byState } from './field/readings/byState'
export { lagOfMachine } from './field/lag/lagOfMachine'
export { earlierFields, fieldOfPasses } from './field/fieldOfPasses'
export { carriedOver } from './brief/carriedOver'
export { doubtFindings, fieldFindings, oddFindings, SILENT_CAUSES, type Finding } from './report/findings'
export { oddRunWords } from './curves/lay/oddRunWords'
export { withAnswers, type EarlierField } from './field/faults/silent'
export { explainNode, runTraces, type NodeExplanation, type RunTrace } from './field/explain'
export { type FieldOptions, DEFAULT_FIELD_OPTIONS, type CylinderField, type Field, FieldError } from './field/field'
export { targetOn, TARGET_PRESETS, type TargetZone } from './field/target'
export { IDLE_LOAD } from './field/held/idleZones'
export { isMisfire, misfireWords } from './field/faults/misfires'
export { straightBetween, straightWords, type Straight } from './field/straight'
export { heldZonesOfRuns, type HeldChoice } from './field/held/zonesOfRuns'
export { flatteredBanks } from './fuel/flattered'
export { fuelById, FUELS, USUAL_RON } from './fuel/fuels'
export { fuelWithEthanol, twoFuels } from './brief/twoFuels'
export { afrShown, lambdaShown, percentFromFactor, USUAL_GAUGE_SCALE } from './fuel/mixture'
export {
  calibrateJetting,
  isRead,
  predictJetting,
  cameTrue,
  type MeasuredFitting,
  type Predicted,
} from './jetting/model/calibrate'
export {
  chokingNeedleIn,
  fittedFault,
  CARBURETTOR_KINDS,
  type Slot,
  type Fitted,
  type Body,
  type Box,
  EMPTY_BOX,
  SLOTS_OF,
  SLOT_NAMES,
} from './jetting/carburettor'
export { fittedText } from './jetting/fittedText'
export { CHECKS, trustOf, type Check } from './jetting/checks'
export { densityCard, jetCorrection } from './jetting/model/density'
export {
  fitIdlePeak,
  fitIdleMixture,
  sidesAgree,
  IDLE_WAYS,
  type IdleWay,
  IDLE_SCHOOLS,
  type IdleSchool,
  type IdleReading,
} from './jetting/idle/idle'
export { JET_SCHEMES } from './jetting/model/jetSizes'
export { circuitShares, passages, rodsRiseAt } from './jetting/model/model'
export { countedFrom, needleFault } from './jetting/model/needle'
export {
  bankWarnings,
  OPENING_ROWS,
  openingReadings,
  readingSpeeds,
  zoneDepartures,
  type OpeningRow,
} from './jetting/openingReadings'
export { partsFromCsv, partsToCsv } from './jetting/partsCsv'
export { JUDGED_OPENINGS } from './jetting/model/judgedOpenings'
export { proposeParts, type FittingRead, type PartsAnswer } from './jetting/search/propose'
export { searchBox, type Proposal, type ProposalList } from './jetting/search/search'
export { CIRCUIT_TARGETS, judgeTipIn, usualTargets, type CircuitTarget } from './jetting/model/targets'
export { tipInOf, type TipIn } from './jetting/tipIn'
export { fitsController, nameAsFound, workingTable } from './rig/controllerTable'
export { proposedSets, type ProposedSet } from './question/proposedSets'
export { fieldSet, fieldRuns, tellsMixture } from './question/fieldRuns'
export { fieldAnswer } from './question/fieldAnswer'
export { jobTarget, leanAim } from './question/jobTarget'
export type { ColumnsOf, JobGround, Loader } from './question/ground'
export { fieldQuestion, type FieldAsked, type FieldQuestion } from './question/fieldQuestion'
export { answerChange, changeAnswer, changeQuestion, measuredOn, type ChangeQuestion } from './question/changeQuestion'
export { nextRunQuestion, type NextRunQuestion } from './question/nextRunQuestion'
export { plateQuestion, responseQuestion, type PlateQuestion, type ResponseQuestion } from './question/responseQuestion'
export { sparkQuestion, type FittedMixture, type SparkQuestion, type SparkTold } from './question/sparkQuestion'
export {
  fittingSets,
  jettingQuestion,
  type FittingSet,
  type JettingPresent,
  type JettingQuestion,
  type JettingTold,
} from './question/jettingQuestion'
export { loopQuestion, type LoopQuestion, type LoopTold } from './question/loopQuestion'
export { loopAnswer } from './question/loopAnswer'
export { type JobNews, type JobPart } from './contract/news'
export { loopRequestSchema } from './contract/loop'
export { sparkRequestSchema } from './contract/spark'
export { flatnessAnswer } from './question/flatnessAnswer'
export { planOf, type PlanTold } from './question/planOf'
export { fuelTables, type TableMoved } from './question/states'
export { kindOfTable, setsFuel, setsPlate, setsSpark } from './table/kinds'
export {
  answerQuestion,
  QUESTIONS,
  runsNeeded,
  type AnswerOf,
  type QuestionKind,
  type QuestionOf,
} from './question/kinds'
export { JOB_PARTS } from './brief/jobParts'
export {
  firstStates,
  foreignWarning,
  madeOnNewest,
  measuredRevision,
  movedSince,
  revisionOf,
  untoldRuns,
  type Untold,
} from './question/madeOn'
export { detectEncoding, type Encoding } from './log/encoding'
export { readReading, handColumns, type HandReading, type HandFault, type HandColumns } from './log/handReadings'
export { readLayout, type LogLayout } from './log/head'
export { LogError } from './log/logError'
export { logReader, type LogReader } from './log/logReader'
export { missingChannels } from './log/mappedColumns'
export { headerSignature, type Mapping } from './log/recognise'
export { type ReadResult } from './log/settleColumns'
export { counted, grouped, plain, signed } from './numbers/format'
export { NINETY } from './numbers/ninety'
export { valueAt } from './numbers/parabola'
export { readNumber, readNumbers } from './numbers/typed'
export { jobPlan, jobPlanChoice, mostRpm } from './plan/jobPlan'
export { planFor, PURPOSES, SCHOOLS, DEPTHS, PLANNED_KINDS, type PlanChoice, DEFAULT_PLAN } from './plan/choice'
export { doneRuns } from './plan/doneRuns'
export { cutToTime, makePlan, type PlanStep } from './plan/makePlan'
export { type HelpfulRun } from './plan/helpfulRun'
export { tickPlan } from './plan/tickPlan'
export { type RigControls } from './rig/controls'
export { FLAT_AIM, type OffNode } from './rig/flatness'
export { loopStep, passNumber, passSets, proveStep, type LoopStep } from './rig/loopStep'
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
export { type RigSample } from './rig/sample'
export { scriptDriver, type ScriptDriver, type ScriptState } from './rig/script'
export { kindOfScript, nameOfScript, isStepped, type RunScript } from './rig/runScript'
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
export { CHANNELS, channelKind, channelTitle, knownChannels } from './run/channels'
export { alignChannels } from './run/alignChannels'
export { highestRpm } from './run/highestRpm'
export { straysInWords, withoutStrays } from './run/strays'
export { readAsWords, type ReadAs } from './run/readAs'
export { bySweep, sweepName, sweepOf, sweepsAt } from './run/bySweep'
export {
  FACT_CHANNELS,
  comparedOfRun,
  factsAsRead,
  runFacts,
  sweepsOfRun,
  type FactColumns,
  type RunFacts,
} from './run/facts'
export {
  DEFAULT_FILTERS,
  REASONS,
  SENSOR_PLACES,
  type Filters,
  type RpmBand,
  type RunColumns,
  type SensorPlace,
  type SetAside,
} from './run/run'
export type { ChannelInfo, LeftOut, RunInfo } from './run/runInfo'
export { channelsFor, assembleRun, knownBeside, isLeftOut, type ColumnPurpose } from './run/runColumns'
export { runFault } from './run/runFault'
export { guessKind, RUN_KINDS, type RunKind } from './run/runKind'
export { stopsOf, stopName, type Stop } from './run/stops'
export { type Calibration } from './simulator/controller'
export { sound, type RigFaults } from './simulator/faults'
export { DEFAULT_LIVE, liveRig, type LiveRig } from './simulator/liveRig'
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
export { runSweep, steadyLambda, type Rig, type RigRun, type SweepScript } from './simulator/rig'
export { type SparkRun } from './spark/bin'
export { DEFAULT_SPARK_SETTINGS, type SparkPlanChoice, type SparkSettings } from './spark/choice'
export { AT_LOAD, rechecks, staleMixture, type MadeRun, type Recheck, type Stale } from './spark/coupling'
export { judgeBin, type JudgedBin, type JudgeOptions } from './spark/judge'
export { fitMixture, lossAt, mixtureBins, type MixtureBin, type MixtureFit } from './spark/mixtureSweep'
export { oneKnob, RANGE_USES, type RangeUse } from './spark/oneKnob'
export { proveSpark, type SparkProof } from './spark/proof'
export { advanceOf, settingsOfSweeps, type SettingRun, type SparkSetting } from './spark/setting'
export { safeOffsets, sparkPlan, STOP_RULES, tickSparkPlan, type SparkPlanStep } from './spark/sparkPlan'
export { presentReadings, stepBins, type PresentReading } from './spark/stepBins'
export { suggestSpark } from './spark/suggestSpark'
export {
  DEFAULT_SPARK_LIMITS,
  type SparkArithmetic,
  type SparkLimits,
  type SparkNode,
  type SuggestedSpark,
} from './spark/sparkChange'
export { sweepBins } from './spark/sweepBins'
export { extendCells } from './table/extend'
export { readEntry, takeEntry, type CellEntry } from './table/cellEntry'
export { cellsToText } from './table/cells'
export { tableFromCsv, tableFromRows, tableToCsv, tableToRows } from './contract/tableCsv'
export { defaultBreakpoints } from './table/defaultBreakpoints'
export {
  ordered,
  editCells,
  straightLine,
  evenOut,
  holdTop,
  keepSame,
  type Selection,
  addToCells,
  scaleCells,
} from './table/edits'
export {
  checkTable,
  tableFromJson,
  tableSaidSchema,
  tableToJson,
  TableError,
  type TableSaid,
} from './contract/tableJson'
export { interpolate, locate, nearest } from './table/lookup'
export { looksTurned, pasteCells } from './table/paste'
export {
  LOAD_UNITS,
  sameGrid,
  filled,
  breakpointFault,
  shapeFault,
  rangeFault,
  valueLimits,
  type Matrix,
  type LoadAxis,
  type TableKind,
  type Grid,
  type LoadGrid,
  type Table,
} from './table/table'
export { cellDigits, tableDigits } from './table/tableDigits'
export { faultsAfter, WORKSHOP_ACTS } from './trainer/acts'
export { TRAINER_CASES, type TrainerCase } from './trainer/cases'
export { DIAGNOSES, type Diagnosis } from './trainer/diagnoses'
export { trueFlatness, type Flatness } from './trainer/flatness'
export { type LookedRun } from './trainer/looks'
export { scoreAttempt } from './trainer/score'
export { unsafeWatch, type UnsafeStep } from './trainer/unsafe'
export {
  ALIKE,
  CHANGED_PARTS,
  LEVELS_OF_SERVICE,
  type ChangedPart,
  type MachineLimits,
  type Rigging,
} from './contract/brief'
export {
  COMPLAINT_WORDS,
  FOUND,
  RIDER_SAYS,
  complaintChangeSchema,
  newComplaintSchema,
  type ComplaintChange,
  type NewComplaint,
  type Complaint,
  type FoundThere,
} from './contract/complaint'
export { newEntrySchema, type Entry, type NewEntry } from './contract/entry'
export {
  DUE,
  newPutBackSchema,
  newRigLineSchema,
  putBackChangeSchema,
  type PutBackChange,
  rigLineChangeSchema,
  type NewPutBack,
  type PutBack,
  type RigLine,
} from './contract/jobLines'
export {
  type Figure,
  type FlatnessAnswer,
  type Moved,
  type RecordLine,
  type Report,
  type ReportPower,
  type ReportState,
  type SavedReport,
} from './contract/report'
export { againstShelfSchema, newShelfSchema, shelfStartSchema, type Shelf, type ShelfMatch } from './contract/shelf'
export { type Verdict } from './contract/verdict'
export { complaintName, placeWords } from './brief/complaintWords'
export { complaintSpeeds, findingOf, placeFaults, type ComplaintFinding } from './brief/complaints'
export { crossCheck, standingProbes, type PlacedProbe, type ProbeCheck } from './run/probes'
export { restoredStock } from './report/restoredStock'
export { measuredFlatness } from './rig/flatness'
export { movedByZone } from './report/moved'
export { openLines } from './report/openLines'
export { openPutBacks, USUAL_PUT_BACKS } from './report/putBack'
export { figureFrom, pointedAt, type Answered } from './report/reportFigure'
export { mayHaveLoop } from './question/mayHaveLoop'
export { ratioWords, rigList, rigMinutes } from './brief/rigList'
export { underCeiling } from './plan/choice'
export { checkRunsOf, likesOf, shelfDifference, shelfMatches } from './shelf/shelfMatch'
export { shelfPrior } from './shelf/shelfPrior'
export { askNextRun, type NextAsked, type NextOfJob } from './question/askNextRun'
export { retuneVerdict } from './brief/retuneVerdict'
export { resample } from './table/resample'
export { reportCautions } from './report/reportCautions'
export { curveWords, reportCurves } from './report/reportCurves'
export { sentence } from './numbers/sentence'
export {
  differenceIn,
  figureIn,
  unitOf,
  UNITS,
  unitsFrom,
  USUAL_UNITS,
  type ToldQuantity,
  type Units,
} from './words/units'
export { reportHtml } from './report/reportHtml'
export { reportText, type ReportBlock, type ReportReader } from './report/reportText'
export { plateAnswer, responseAnswer } from './question/responseAnswer'
export { accelerationChange } from './response/rollOns/accelerationChange'
export { askPlate, ResponseError, type PlateAsked } from './response/grip/askPlate'
export { type Estimate } from './response/rollOns/excursion'
export { type GripMap } from './response/grip/gripMap'
export { risingAt } from './response/grip/knotsAt'
export { type LoopExit } from './response/exits/loopExits'
export { type JudgedRollOn } from './response/rollOns/rollOns'
export { type PlannedRollOn } from './response/rollOns/rollOnPlan'
export { type Advice, type RollOnGroup } from './response/rollOns/rollOnGroups'
export { type Snatch } from './response/exits/snatch'
export { exitWords, TAPER, taperExits, type HandNode } from './response/exits/taperExits'
export { STEP as RESPONSE_STEP } from './response/film/tracedOpening'
export { torqueCurve } from './response/grip/torqueMap'
export { wholeMap } from './response/grip/wholeMap'
export { PLATE_SHAPES, type MadePlate, type PlateShape } from './response/grip/plateTable'
export { respond, DEFAULT_RESPONSE, type Response, type ResponseChoice } from './response/response'
export {
  plateRequestSchema,
  responseRequestSchema,
  type PlateAnswer,
  type PlateRequest,
  type ResponseAnswer,
  type ResponseRequest,
} from './contract/response'
