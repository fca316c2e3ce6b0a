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
  TRUST_SCOPES,
  type TrustScope,
} from './model/answers.js';
export { isZone } from '../shared/zone.js';
export { type ConditionTrace, findingsOf, type Scene } from './evaluate/condition.js';
export {
  type ChannelCondition,
  AMOUNTS,
  type Amount,
  type ApplicationCondition,
  clausesOf,
  type ColumnsCondition,
  type Condition,
  type CountryCondition,
  type DomainCondition,
  type ExchangeCondition,
  type FileCondition,
  type FindingsCondition,
  type ConnectionCondition,
  type GroupCondition,
  type FieldsCondition,
  isAboutApplication,
  isAboutWay,
  isOverTime,
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
  type RightsCondition,
  type RowsCondition,
  type SenderCondition,
  type SignInCondition,
  type SizeCondition,
  SUM_SCOPES,
  type SumCondition,
  type SumScope,
  type TakenFromCondition,
  type TimeCondition,
  type TriesCondition,
  type UnreadableCondition,
  type UseCondition,
  type UsualCondition,
  type ValuesCondition,
  type WayCondition,
  type WindowCondition,
} from './model/conditions.js';
export {
  coverage,
  type CoverageCell,
  type CoverageRequest,
  type CoverageShare,
} from './coverage/coverage.js';
export {
  evaluate,
  isDivided,
  judgementsByRecipient,
  type RecipientJudgement,
  weigh,
} from './evaluate/evaluate.js';
export {
  type ApprovalNote,
  type Cut,
  CUTS,
  type Judgement,
  type Match,
  type PolicyTrace,
  type RuleTrace,
  type Verdict,
} from './evaluate/verdict.js';
export {
  bytesMoved,
  goesOutside,
  rowsTaken,
  type WindowAsked,
  windowKey,
  windowsAsked,
} from './evaluate/windows.js';
export { tellsPerson } from './model/tells-person.js';
export { MAX_TRUST_MINUTES, type ProofAsked, proofAsked, trustPlace } from './evaluate/proof.js';
export { compilePolicies, type Judge } from './evaluate/judge.js';
export { targetsOf } from './coverage/targets.js';
export { isOneOf, SPOT_TERM_KINDS, type SpotTerm } from './model/spots.js';
export {
  EVERYWHERE,
  isThere,
  WHERE_KINDS,
  type Whereabouts,
  type WhereTerm,
  whereValue,
} from './model/whereabouts.js';
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
} from './checks/problem.js';
export { policyProblems } from './checks/problems.js';
export {
  type AnswerText,
  type AskReason,
  type AskTerms,
  type Band,
  type Ceiling,
  NO_POLICIES,
  type Deciders,
  type HoldTerms,
  type OverrideTerms,
  type Policy,
  type PolicySet,
  type Rule,
  type Silence,
  type TextId,
  type Told,
} from './model/rule.js';
export { type Exchange, type ExchangeId } from './model/exchange.js';
export { type SpotGroup, type SpotGroupId } from './model/spots.js';
export { keepMovement, type KeptMovement, type KeptPart, unkeepMovement } from './evaluate/kept-movement.js';
export { type Pack, type PackChoices, packDraft, PACKS, patternsFor } from './packs/packs.js';
export { patternsOfRule } from './evaluate/patterns-of-rule.js';
export { type SetContext, type SetProblem, setProblems } from './checks/set-problems.js';
export {
  renderText,
  TEXT_FIELDS,
  type TextFacts,
  type TextField,
  unknownFields,
  wordsFor,
} from './messages/texts.js';
export {
  approvalsUsed,
  destinationsToApprove,
  isNamed,
  namesFor,
  MAX_APPROVAL_DAYS,
  type StandingApproval,
  withApprovals,
} from './approvals/standing-approval.js';
export { askEnds } from './evaluate/ask-ends.js';
export { type LabelledMovement, patternsOfAutomatic } from './evaluate/labelled-movement.js';
export {
  compileItemJudge,
  type ItemJudge,
  type JudgedItem,
  judgeItem,
  type WholeSetToJudge,
} from './evaluate/judge-item.js';
export { withLabelMatches } from './evaluate/label-limits.js';
export { type LabelMatch } from './evaluate/verdict.js';
export { EMPTY_BAND, newPolicy, newRule } from './model/new-rule.js';
