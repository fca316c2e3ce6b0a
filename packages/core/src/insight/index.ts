export {
  type Decided,
  decidedOf,
  MAX_SHIFTED_ITEMS,
  type Rejudged,
  type ReplayDifference,
  ReplayTally,
  type Shift,
  type ShiftCounts,
  type ShiftedItem,
  shiftOf,
  SHIFTS,
} from './replay.js';
export {
  bucketsOf,
  type Grain,
  grainOf,
  MAX_PERIOD_DAYS,
  type Period,
  periodBefore,
  weeksBefore,
} from './changes/buckets.js';
export type { Spike } from './changes/spikes.js';
export { type Clock, historyOf, type PlacedSpike, spikesOf, statedTrend } from './changes/stands-out.js';
export { type Trend } from './changes/trend.js';
export { explain, type Explanation, type ValueCount } from './changes/explain.js';
export { type Few, fewOf } from './most/few.js';
export {
  byPrice,
  NO_RULE_FIGURES,
  remarksOnRule,
  type RuleFigures,
  type RuleRemark,
} from './rules/rule-cost.js';
export { behind, type Slice, sliceFilter, within } from './changes/slice.js';
export { inWeekHour, type WeekHour, weekHourOf } from './most/hours.js';
export {
  type ChangeablePattern,
  exchangeOf,
  isPatternChange,
  isSame,
  type PatternChange,
  type PreventingChange,
  type RuleChange,
  shownChange,
  withChangedRule,
  withPatternChange,
  withRuleChange,
} from './prevent/change.js';
export { type CaseFacts, type FoundFacts, propose } from './prevent/propose.js';
export {
  byEffect,
  type ChangeEffect,
  type DecidedRules,
  effectOf,
  type WeighedCase,
} from './prevent/weigh.js';
export {
  type FalseRate,
  isInForce,
  type PromiseState,
  promiseState,
  type SetOfChange,
} from './prevent/kept.js';
export {
  type Improvement,
  improvementKey,
  improvements,
  NEVER_FIRED_DAYS,
  type StateFacts,
} from './improve/improve.js';
export {
  type ComparedLine,
  differenceOf,
  isFirstRun,
  LINE_CHANGES,
  type LineChange,
  type ReportLine,
} from './report/difference.js';
export { type GuardedChannel, guardedChannels, peopleGuarded } from './guard/guarded.js';
export {
  type DecidedFinding,
  LEAST_DECISIONS,
  type LearnedWeights,
  learnWeights,
  SURE,
} from './weights/learn.js';
export type { ReliabilityRow } from './weights/calibration.js';
export { answerFrom, type CountAnswers, type CountKind, type CountQuestion } from './counts/answer.js';
export { DeskColumns } from './counts/desk-columns.js';
export { INCIDENT_COLUMNS, MATCH_COLUMNS, MOVEMENT_COLUMNS, TRAIT_COLUMNS } from './counts/facts.js';
export type { CountedGroup } from './counts/groups.js';
export { type Plan, planOf } from './counts/plan.js';
export type { Dimension } from './counts/axis.js';
export { KeptStretches } from './counts/kept-stretches.js';
export { largestFirst, type TallyRow } from './counts/tally.js';
export {
  MACHINE_GAPS,
  type MachineGap,
  type MachineGapCode,
  machineGaps,
  SILENT_FOR_MS,
  type WatchingMachine,
} from './improve/machine-gaps.js';
