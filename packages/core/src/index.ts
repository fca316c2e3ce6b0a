export { assertNever } from './shared/assert-never.js';
export type { Brand, PatternId, PolicyId, RawOffset, RuleId, SearchOffset } from './shared/brand.js';
export { tableRows } from './text/table-rows.js';
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
  type Expected,
  isKept,
  judgeSpecimen,
  SPECIMEN_CERTAINTY,
  type SpecimenFigures,
  specimenFigures,
  type SpecimenOutcome,
} from './detection/specimens.js';
export { shapeVariants } from './detection/shape.js';
export { compilePlainScanner, compileScanner, type Scanner, type ScanResult } from './detection/scanner.js';
export {
  MAX_LISTED_WORDS,
  MAX_WORD_LENGTH,
  readWordLines,
  type WordListReading,
} from './detection/word-list.js';
export { domainOf, isDomain, isUnder } from './people/address.js';
export type { KnownPeople, PersonFacts } from './people/person.js';
export {
  type Answer,
  ANSWERS,
  answersOf,
  type CannotReason,
  CHANNEL_ABILITIES,
  LOWERABLE_EFFECTS,
  type LowerableEffect,
  SEVERITIES,
  type Severity,
  strength,
  type Treatment,
  TREATMENT_KINDS,
  type TreatmentKind,
} from './policy/answers.js';
export {
  type Audience,
  type AudienceTerm,
  EVERYBODY,
  isEverybody,
  isMeant,
  termValue,
} from './people/audience.js';
export { isDay } from './shared/day.js';
export { type ConditionTrace, findingsOf, isZone, type Scene } from './policy/condition.js';
export {
  type ChannelCondition,
  clausesOf,
  type Condition,
  type CountryCondition,
  type DomainCondition,
  type ExchangeCondition,
  type FileCondition,
  type FindingsCondition,
  type ConnectionCondition,
  type GroupCondition,
  isAboutWay,
  isGroup,
  type LabelCondition,
  type LeafCondition,
  type LinkCondition,
  type MachineCondition,
  type Measure,
  type NetworkCondition,
  type PutIntoCondition,
  type RateCondition,
  type ReachCondition,
  type ReceiversCondition,
  type RecipientCondition,
  type RowsCondition,
  type SenderCondition,
  type SizeCondition,
  type TakenFromCondition,
  type TimeCondition,
  type TriesCondition,
  type UnreadableCondition,
  type WayCondition,
} from './policy/conditions.js';
export { coverage, type CoverageCell, type CoverageRequest, type CoverageShare } from './policy/coverage.js';
export {
  type Cut,
  evaluate,
  isDivided,
  type Judgement,
  judgementsByRecipient,
  type Match,
  type PolicyTrace,
  type RecipientJudgement,
  type RuleTrace,
  type Verdict,
  weigh,
} from './policy/evaluate.js';
export { compilePolicies, type Judge } from './policy/judge.js';
export {
  type Channel,
  CHANNELS,
  type Connection,
  CONNECTIONS,
  type EarlierMovement,
  FILE_KINDS,
  type FileKind,
  type InspectedMovement,
  type InspectedPart,
  LINK_KINDS,
  type LinkKind,
  LONGEST_LOOK_BACK_MINUTES,
  type Machine,
  MACHINE_STATES,
  type MachineState,
  type MovedFile,
  type MovedLabel,
  type OwnLabel,
  NETWORK_STATES,
  type NetworkState,
  PART_ROLES,
  type PartRole,
  type Recipient,
  UNREADABLE_REASONS,
  type UnreadableReason,
} from './policy/movement.js';
export { newLabel, nextRank } from './labels/new-label.js';
export { targetsOf } from './policy/targets.js';
export {
  DEVICE_KINDS,
  type DeviceKind,
  isOneOf,
  isWithin,
  type Spot,
  SPOT_TERM_KINDS,
  spotName,
  type SpotTerm,
} from './policy/spots.js';
export {
  EVERYWHERE,
  isThere,
  WHERE_KINDS,
  type Whereabouts,
  type WhereTerm,
  whereValue,
} from './policy/whereabouts.js';
export {
  type Gravity,
  gravityOf,
  type KnownMachines,
  MAX_ASK_MINUTES,
  MAX_COUNT,
  type Problem,
  PROBLEM_CODES,
  type ProblemCode,
  type ProblemContext,
} from './policy/problem.js';
export { policyProblems } from './policy/problems.js';
export {
  type AnswerText,
  type AskReason,
  type AskTerms,
  type Band,
  type Ceiling,
  type Exchange,
  type ExchangeId,
  NO_POLICIES,
  type OverrideTerms,
  type Policy,
  type PolicySet,
  type Rule,
  type Silence,
  type SpotGroup,
  type SpotGroupId,
  type TextId,
  type Told,
} from './policy/rule.js';
export { keepMovement, type KeptMovement, type KeptPart, unkeepMovement } from './policy/kept-movement.js';
export { type Pack, type PackChoices, packDraft, PACKS, patternsFor } from './policy/packs.js';
export { patternsOfRule } from './policy/patterns-of-rule.js';
export { type SetContext, type SetProblem, setProblems } from './policy/set-problems.js';
export {
  renderText,
  TEXT_FIELDS,
  type TextFacts,
  type TextField,
  unknownFields,
  wordsFor,
} from './policy/texts.js';
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
export { type IncidentCount, incidentOf, type IncidentSummary } from './incidents/incident.js';
export { type Urgency, type UrgencyPart, urgencyOf } from './incidents/urgency.js';
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
} from './insight/replay.js';
export {
  type Automatic,
  type AutomaticOutcome,
  type AutomaticResult,
  type ContentTerm,
  DOES,
  isAtPlace,
  isPersonsStore,
  labelByRules,
  type LabelledItem,
  OUTCOMES,
  REACHES,
  type Reach,
} from './labels/automatic.js';
export { askEnds } from './policy/ask-ends.js';
export { type LabelledMovement, patternsOfAutomatic } from './policy/labelled-movement.js';
export {
  compileItemJudge,
  type ItemJudge,
  type JudgedItem,
  judgeItem,
  type WholeSetToJudge,
} from './policy/judge-item.js';
export {
  type Handled,
  type HandledInMovement,
  type LabelMatch,
  withLabelMatches,
} from './policy/label-limits.js';
export {
  type ItemOnItsWay,
  labelAfter,
  labelOnItsWay,
  type StandingLabel,
  suggestedLabel,
} from './labels/on-its-way.js';
export { colourFault, contrast, isColour } from './labels/contrast.js';
export {
  type Clause,
  type Effect,
  EFFECTS,
  type EffectTerms,
  type Grant,
  type HandledItem,
  type Handler,
  type Handling,
  isOpen,
  type Leave,
  leftToSetter,
  mayDo,
  type Named,
  OPEN_HANDLING,
} from './labels/handling.js';
export {
  type Carrier,
  CARRIERS,
  type ChoosingWords,
  choosingWords,
  type ForeignName,
  highest,
  type Label,
  LABELLED_HOW,
  type LabelledHow,
  labelOfForeign,
  type LabelShift,
  labelShift,
  MAX_RANK,
} from './labels/label.js';
export {
  type LabelContext,
  labelGravity,
  type LabelProblem,
  type LabelProblemCode,
  labelProblems,
  MAX_GRANT_DAYS,
  NO_LABELS,
  type WholeLabelSet,
} from './labels/label-problems.js';
export {
  MARK_FIELDS,
  MARK_PLACES,
  MARK_POINTS,
  type MarkFacts,
  type Marking,
  type MarkPlace,
  MAX_MARK_LENGTH,
  MAX_SLANT,
  type PrintedMark,
  printedMarks,
} from './labels/marking.js';
export {
  type Cost,
  costOf,
  COSTS,
  type Following,
  FOLLOWINGS,
  hasBegun,
  type LabelSet,
  type Need,
  NEEDS,
  type Offer,
  type Offered,
  offeredTo,
  type Start,
} from './labels/offer.js';
export { printedHandling } from './labels/printed-words.js';
export { changesForPeople, type Disagreement, disagreements, type PersonChange } from './labels/standing.js';
export type { AutomaticId, LabelId, OfferId } from './shared/brand.js';
