export {
  ADDRESS_FAULTS,
  type AddressFault,
  type AddressLine,
  type AddressList,
  type AddressReading,
  type AddressVerdict,
  judgeAddress,
  MAX_ADDRESS,
  type ReadAddress,
  readAddress,
  readHost,
} from './address.js';
export {
  type AssistantRule,
  type Circle,
  type CircleArrow,
  type CircleOf,
  circleOf,
  type Crossing,
  crossing,
  type CrossingReason,
  type CrossingSet,
  isInScope,
  type LaterService,
  type OperationException,
  type CrossingProblem,
  type WorkspaceScope,
} from './crossing-set.js';
export {
  type AnyAutomation,
  type Assistant,
  type AssistantAudience,
  type AssistantSource,
  AUDIENCES,
  type Doing,
  DOINGS,
  type Flow,
  type FlowService,
  type FlowStep,
  MAX_STEPS,
  type Operation,
  type Outlet,
  OUTLETS,
  type Workspace,
  WORKSPACE_KINDS,
  type WorkspaceKind,
} from './flow.js';
export {
  type Alternatives,
  alternatives,
  type AutomationVerdict,
  type Breach,
  type BreachReason,
  highestLabel,
  judgeAutomation,
  type Register,
  type SetTrace,
  SITES,
} from './judge-automation.js';
export {
  AUDIENCE_NAMES,
  type BreachNames,
  breachSentence,
  insteadSentence,
  OUTLET_NAMES,
} from './breach-words.js';
export { BreachBook, touchedServices } from './breach-book.js';
export { MAX_OPERATIONS, type OpenApiReading, readOpenApi } from './openapi.js';
export {
  ARAZZO_FAULTS,
  type ArazzoFault,
  type ArazzoReading,
  isArazzo,
  operationNamed,
  readArazzo,
} from './arazzo.js';
export { type AutomationGap, automationGaps, type GapsContext } from './automation-gaps.js';
export { runOrder } from './run-order.js';
export { type CrossingContext, crossingProblems } from './set-problems.js';
