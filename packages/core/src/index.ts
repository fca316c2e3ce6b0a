export { assertNever } from './shared/assert-never.js';
export type { Brand, PatternId, PolicyId, RawOffset, RuleId, SearchOffset } from './shared/brand.js';
export { toSearchText, type SearchText } from './text/search-text.js';
export { certaintyOf, type Evidence, type EvidenceCode } from './detection/evidence.js';
export { countFindings, type Finding, type FindingCount, type Rival } from './detection/finding.js';
export { mask } from './detection/mask.js';
export {
  DEFAULT_WORD_WEIGHT,
  type Exclusions,
  type ExpressionPattern,
  type ListedWord,
  OWN_CHECKS,
  type OwnCheck,
  type Pattern,
  type PatternKind,
  type PatternWeights,
  type ReadyPattern,
  type DocumentsPattern,
  LEARNT,
  type RecordsPattern,
  type WordListPattern,
} from './detection/pattern.js';
export {
  MAX_FILE_COLUMNS,
  MAX_OTHER_COLUMNS,
  MAX_RECORDS,
  type RecordColumn,
  type RecordIndex,
  RecordIndexBuilder,
  type RecordReport,
  type RecordShape,
} from './detection/exact/index-of-records.js';
export { COLUMN_KINDS, type ColumnKind, normalForm } from './detection/exact/normal-form.js';
export type { RecordSource } from './detection/exact/records.js';
export { type CategoryModel, type WordPart, wordCounts } from './detection/documents/category.js';
export type { DocumentSource } from './detection/documents/document-finder.js';
export {
  type CategoryReport,
  ENOUGH_SAMPLES,
  FOLDS,
  type HeldOut,
  LEAST_SAMPLES,
  learnCategory,
} from './detection/documents/held-out.js';
export type { Share } from './detection/documents/interval.js';
export {
  indexLikeness,
  LEAST_FINGERPRINTS,
  type LikenessIndex,
  type LikenessSample,
  MAX_SAMPLES,
} from './detection/documents/likeness.js';
export { type ExpressionFault, faultOf } from './detection/expressions/judge.js';
export { type ExpressionProblem, MAX_EXPRESSION } from './detection/expressions/read.js';
export { type NearestPattern, whyNotFound } from './detection/why-not.js';
export { COUNTRY_LANGUAGES } from './detection/library/languages.js';
export { compilePlainLoop } from './detection/plain-scan.js';
export { accidentalShareOf, checkNames } from './detection/check-names.js';
export { READY_PATTERNS } from './detection/library/index.js';
export {
  type AdjustedPattern,
  isEverywhere,
  MAX_WEIGHT,
  type OwnPattern,
  patternSet,
  WEIGHT_NAMES,
  withWeights,
} from './detection/own-patterns.js';
export type { CheckStep } from './detection/checks/step.js';
export { checkOf } from './detection/prepared.js';
export {
  bareValue,
  type Expected,
  isKept,
  judgeSpecimen,
  SPECIMEN_CERTAINTY,
  type SpecimenFigures,
  specimenFigures,
  type SpecimenOutcome,
} from './detection/specimens.js';
export { shapeVariants } from './detection/shape.js';
export {
  compilePlainScanner,
  compileScanner,
  MAX_CANDIDATES,
  type Scanner,
  type ScanResult,
} from './detection/scanner.js';
export {
  MAX_LISTED_WORDS,
  MAX_WORD_LENGTH,
  readWordLines,
  type WordListReading,
} from './detection/word-list.js';
export { type ConditionTrace, domainOf, findingsOf, isUnder } from './policy/condition.js';
export { evaluate, type Match, type PolicyTrace, type RuleTrace, type Verdict } from './policy/evaluate.js';
export type {
  Channel,
  InspectedMovement,
  InspectedPart,
  PartRole,
  Recipient,
  UnreadableReason,
} from './policy/movement.js';
export {
  MAX_COUNT,
  MAX_NESTING,
  policyProblems,
  type Problem,
  type ProblemCode,
  type ProblemContext,
} from './policy/problems.js';
export {
  ANSWERS,
  type Answer,
  CHANNEL_ANSWERS,
  type Condition,
  type DomainCondition,
  type FindingsCondition,
  type GroupCondition,
  type Policy,
  type RecipientCondition,
  type Rule,
  SEVERITIES,
  type Severity,
  strength,
  type UnreadableCondition,
} from './policy/rule.js';
export {
  type ActResult,
  decide,
  type DecisionAct,
  type DecisionAnswers,
  type DecisionState,
  HARM_CAUSES,
  type HarmCause,
  type IncidentStatus,
  NO_ANSWERS,
  type Outcome,
  outcomeOf,
  STATUSES,
} from './incidents/decision.js';
export { type IncidentCount, incidentOf, type IncidentSummary, WORTH_SHOWING } from './incidents/incident.js';
export { type Urgency, type UrgencyPart, urgencyOf } from './incidents/urgency.js';
