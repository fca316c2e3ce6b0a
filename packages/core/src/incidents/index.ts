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
} from './decision.js';
export { type IncidentCount, incidentOf, type IncidentSummary, reportedIncident } from './incident.js';
export {
  type FindingFault,
  OWN_PRODUCT,
  type ReadFinding,
  readFinding,
  type ReportedFinding,
} from './reported/ocsf.js';
export { type Urgency, type UrgencyPart, urgencyOf, withAge, withSeverity } from './urgency.js';
export {
  FIELD_NAMES,
  type FieldKind,
  type FieldName,
  fieldOf,
  FILTER_FIELDS,
  type FieldTable,
  type FilterField,
  LISTED,
  type Listed,
  type Operator,
  operatorsFor,
  operatorsOf,
  OVERRIDES,
  REPLIES,
} from './filter/fields.js';
export {
  type CompareOperator,
  EVERYTHING,
  type Filter,
  type FilterFault,
  type FilterValue,
  MAX_FILTER_LENGTH,
} from './filter/filter.js';
export { type ParsedFilter, parseFilter, parseFilterOver } from './filter/parse.js';
export {
  allOf,
  type Chip,
  chipOf,
  conjunctsOf,
  fieldsIn,
  filterOfChip,
  printFilter,
  toggled,
  withoutConjunct,
} from './filter/print.js';
export { type FilterFacts, filterHolds } from './filter/holds.js';
export { completeFilter, completeFilterOver, type FilterCompletion } from './filter/complete.js';
export { timeOf } from './filter/times.js';
export { deskPath } from './filter/desk-path.js';
export { bandsOf, estimateAlike, type Signature, SIGNATURE_LENGTH, signatureOf } from './alike/minhash.js';
export { type FoundText, templateOf } from './alike/template.js';
export {
  CASE_DAYS,
  caseOf,
  type EarlierAttempt,
  type JoinedCase,
  LEAST_CASE_TEXT,
  MOST_CASE_VALUES,
} from './alike/attempts.js';
export {
  AGE_POINTS,
  agePoints,
  dueAt,
  type Promises,
  USUAL_HOURS,
  USUAL_PROMISES,
  workedBetween,
  type WorkingHours,
} from './promise/promise.js';
export { LEAST_HISTORY_DAYS, medianOf, type Unusual, unusual } from './usual/rate.js';
export { type PastMovement, type Remark, remarksOn } from './usual/remarks.js';
export { type Actor, applyAct, type DeskAct, type DeskActResult, type DeskState } from './desk-act.js';
