import 'reflect-metadata';

export { ERROR_CODES, type ErrorBody, type ErrorCode } from './errors.js';
export {
  ActRequest,
  type EvidencePart,
  type ExcerptPiece,
  type HistoryEntry,
  INCIDENT_ORDERS,
  type IncidentDetail,
  type IncidentOrder,
  type IncidentPage,
  IncidentQuery,
  type IncidentRow,
  NoteRequest,
  UnmaskRequest,
} from './incidents.js';
export type { LanternFileResult, LanternPart } from './lantern.js';
export {
  MAX_ATTACHMENTS,
  MAX_BODY_LENGTH,
  MAX_CONTEXT_WORDS,
  MAX_EXCLUSIONS,
  MAX_EXPECTED_VALUES,
  MAX_LISTED_INCIDENTS,
  MAX_NAME_LENGTH,
  MAX_PASTE_LENGTH,
  MAX_RECIPIENTS,
  MAX_RULES,
  MAX_SPECIMEN_LENGTH,
  MAX_SPECIMENS,
  MAX_TEXT_LENGTH,
} from './limits.js';
export type { LiveEvent } from './live.js';
export {
  type MailDetail,
  type MailFolder,
  type MailNotice,
  type MailSummary,
  DecideRequest,
  type NoticeState,
  OverrideRequest,
  ReplyRequest,
  type WaitingView,
  type PersonView,
  SendMailRequest,
  type SendMailResult,
} from './mail.js';
export {
  ExpressionRequest,
  type LanternSet,
  type LanternSide,
  type PatternDetail,
  type PatternSummary,
  type SavedWordList,
  SaveExpressionRequest,
  SaveWeightsRequest,
  SaveWordListRequest,
  type WordListOutcome,
  WordListRequest,
} from './patterns.js';
export {
  type BrokenSpecimen,
  type CeilingRecord,
  type Comparison,
  type CoverageView,
  type DraftChange,
  type DraftState,
  type DraftView,
  type ExchangeView,
  type JournalView,
  type PolicyView,
  type ReplayItem,
  type ReplayState,
  type ReplayView,
  type RevisionView,
  type SetFault,
  type SetImportResult,
  type PolicyTextResult,
  type TextView,
  type Usage,
  ExchangeRequest,
  JournalSettingRequest,
  MAX_POLICIES,
  PolicyOrderRequest,
  PolicyRequest,
  PolicyTextRequest,
  PolicyToTextRequest,
  SetImportRequest,
  PublishRequest,
  ReplayItemsQuery,
  ReplayRequest,
  RollBackRequest,
  SaveExchangeRequest,
  SavePolicyRequest,
  SaveTextRequest,
  SetFile,
  TextRequest,
} from './policies.js';
export { EXCHANGE_SCHEMA, POLICY_SCHEMA, TEXT_SCHEMA } from './policy-schema.js';
export type { JsonSchema } from './schema-parts.js';
export { IsShape, SCHEMAS, shapeFault, type ShapeFault, type ShapeName } from './shape.js';
export {
  type RecordColumnGuess,
  type RecordJob,
  type RecordPreview,
  type RecordsDetail,
  RecordsRequest,
} from './records.js';
export {
  type DocumentsDetail,
  type DocumentsJob,
  DocumentsRequest,
  LEAST_SHARE,
  MAX_SAMPLE_FILES,
  type RefusedSample,
  type SampleSide,
  type SampleView,
} from './documents.js';
export { SpecimenRequest, type SpecimenView } from './specimens.js';
export {
  type OverviewView,
  type Permission,
  PERMISSIONS,
  type SessionView,
  SignInRequest,
} from './session.js';
