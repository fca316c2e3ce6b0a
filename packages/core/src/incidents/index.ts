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
export { type IncidentCount, incidentOf, type IncidentSummary } from './incident.js';
export { type Urgency, type UrgencyPart, urgencyOf } from './urgency.js';
