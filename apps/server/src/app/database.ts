import type { TypeOrmModuleOptions } from '@nestjs/typeorm';
import { AccountEntity, InvitationEntity, SessionEntity } from '../accounts/account.entity.js';
import { ChannelSettingEntity } from '../movements/channels/channel-setting.entity.js';
import { OutgoingMailEntity, OutgoingRecipientEntity } from '../doors/outgoing/outgoing.entity.js';
import { GatewayMailEntity } from '../doors/smtp/gateway.entity.js';
import { DataKeyEntity } from '../platform/keys/data-key.entity.js';
import { InstallationEntity } from '../platform/installation.entity.js';
import { PostMailEntity } from '../stand-ins/outside-mail/post-mail.entity.js';
import { DriveFileEntity, DriveShareEntity } from '../stand-ins/drive/drive.entity.js';
import { RoomEntity } from '../stand-ins/posts/room.entity.js';
import { PostEntity, PostFileEntity } from '../stand-ins/posts/post.entity.js';
import { AgentEntity } from '../doors/agents/agent.entity.js';
import { SubmissionEntity } from '../movements/submission.entity.js';
import { MailAttachmentEntity, MailFileEntity, MailMessageEntity } from '../stand-ins/mail/mail.entity.js';
import {
  EvidenceEntity,
  HistoryEntity,
  IncidentEntity,
  MatchEntity,
  MovementEntity,
} from '../incidents/incident.entity.js';
import { BulkEntity, BulkItemEntity } from '../incidents/bulk/bulk.entity.js';
import { DeskViewEntity } from '../incidents/views/desk-view.entity.js';
import { DeskSettingEntity } from '../incidents/desk-setting.entity.js';
import { KnownNameEntity, TraitEntity } from '../incidents/queue/trait.entity.js';
import { DeliveryEntity, HookEntity } from '../response/hooks/hook.entity.js';
import { QuestionEntity } from '../response/people/question.entity.js';
import { AlertEntity, RoutedResponseEntity, RoutingRuleEntity } from '../response/routing/routing.entity.js';
import { ImprovementEntity } from '../insight/improve/improvement.entity.js';
import { GuardDayEntity } from '../insight/guard/guard-day.entity.js';
import { ReportEntity, ReportRunEntity } from '../insight/reports/report.entity.js';
import { PreventionEntity } from '../insight/prevent/prevention.entity.js';
import { DiscoveryPlaceEntity } from '../discovery/places/discovery-place.entity.js';
import { LookedForEntity } from '../discovery/jobs/looked-for.entity.js';
import { JobEntity, RunEntity } from '../discovery/jobs/job.entity.js';
import { PartEntity } from '../discovery/parts/part.entity.js';
import { ReaderCodeEntity, ReaderEntity } from '../discovery/readers/reader.entity.js';
import {
  PersonFactorEntity,
  PersonPasskeyEntity,
  RaisedTrustEntity,
} from '../movements/proof/proof.entity.js';
import { LedgerDeedEntity, LedgerKeyEntity, LedgerReportEntity } from '../stand-ins/ledger/ledger.entity.js';
import { AutomationEntity, CrossingPartEntity } from '../crossings/crossing.entity.js';
import {
  WatchChangeEntity,
  WatchDraftEntity,
  WatchGroupEntity,
} from '../discovery/watching/watch-group.entity.js';
import {
  ActEntity,
  ActItemEntity,
  FoundEntity,
  ItemChangeEntity,
  ItemEntity,
  ItemEvidenceEntity,
} from '../discovery/results/item.entity.js';
import { Discovery1764700000019 } from '../migrations/0019-discovery.js';
import { DrivePlaces1764800000020 } from '../migrations/0020-drive-places.js';
import { Retention1765200000025 } from '../migrations/0025-retention.js';
import { Access1765300000026 } from '../migrations/0026-access.js';
import { KeysAndTrail1765400000027 } from '../migrations/0027-keys-and-trail.js';
import { Scim1765500000028 } from '../migrations/0028-scim.js';
import { GroupSettings1766100000034 } from '../migrations/0034-group-settings.js';
import { FoundFollowUp1766000000033 } from '../migrations/0033-found-follow-up.js';
import { CleanUpEntity, CleanUpItemEntity } from '../discovery/places/clean-up.entity.js';
import { FetchEntity } from '../discovery/results/fetch.entity.js';
import { ItemQueryEntity } from '../discovery/results/item-query.entity.js';
import { ReportedFindings1765900000032 } from '../migrations/0032-reported-findings.js';
import { Counts1765800000031 } from '../migrations/0031-counts.js';
import { Approvals1765700000030 } from '../migrations/0030-approvals.js';
import { AutomationsAtWork1765600000029 } from '../migrations/0029-automations-at-work.js';
import { AssistantTalkEntity } from '../stand-ins/automations/assistants/assistant-talk.entity.js';
import { FlowRunEntity } from '../stand-ins/automations/runs/flow-run.entity.js';
import { ScimMemberEntity, ScimResourceEntity, ScimSettingEntity } from '../directory/scim/scim.entity.js';
import { PasskeyEntity } from '../accounts/passkeys/passkey.entity.js';
import { UsedChallengeEntity } from '../platform/passkeys/used-challenge.entity.js';
import { SignOnEntity } from '../accounts/sign-on/sign-on.entity.js';
import {
  ConsentEntity,
  DeputyEntity,
  OwnRoleEntity,
  ServiceKeyEntity,
} from '../accounts/access/access.entity.js';
import { Directory1765100000024 } from '../migrations/0024-directory.js';
import { Applications1765000000023 } from '../migrations/0023-applications.js';
import { Crossings1765000000022 } from '../migrations/0022-crossings.js';
import { Watching1764900000021 } from '../migrations/0021-watching.js';
import { Insight1764600000018 } from '../migrations/0018-insight.js';
import { Response1764000000017 } from '../migrations/0017-response.js';
import { Triage1764000000016 } from '../migrations/0016-triage.js';
import { FirstLight1764000000001 } from '../migrations/0001-first-light.js';
import { AdjustedPatterns1764000000002 } from '../migrations/0002-adjusted-patterns.js';
import { OwnExpressions1764000000003 } from '../migrations/0003-own-expressions.js';
import { AdjustedPatternEntity } from '../patterns/adjusted-pattern.entity.js';
import { OwnPatternEntity } from '../patterns/own-pattern.entity.js';
import { WordThreshold1764000000005 } from '../migrations/0005-word-threshold.js';
import { OwnDocuments1764000000006 } from '../migrations/0006-own-documents.js';
import { OwnRecords1764000000004 } from '../migrations/0004-own-records.js';
import { RecordChunkEntity, RecordSourceEntity } from '../inspection/sources/record-source.entity.js';
import {
  DocumentPatternEntity,
  DocumentPieceEntity,
  DocumentSampleEntity,
} from '../inspection/sources/document-pattern.entity.js';
import { SpecimenEntity } from '../patterns/specimen.entity.js';
import {
  DirectoryChangeEntity,
  DirectoryServerEntity,
  FormerPersonEntity,
  PeopleGroupEntity,
} from '../directory/directory.entity.js';
import { LegalHoldEntity } from '../platform/legal-hold/legal-hold.entity.js';
import { KeptForEntity } from '../retention/kept-for.entity.js';
import { MachineEntity, MachineGroupEntity } from '../directory/machines/machine.entity.js';
import { OrganisationEntity, PartnerEntity, PersonEntity } from '../directory/person.entity.js';
import { PolicyDraftEntity } from '../policies/policy.entity.js';
import { RevisionEntity } from '../published/revision.entity.js';
import { RulesInFull1764000000007 } from '../migrations/0007-rules-in-full.js';
import { JournalEntity, JournalSettingEntity } from '../journal/journal.entity.js';
import { SetPartEntity } from '../policies/set-part.entity.js';
import { ReplayEntity } from '../replay/replay.entity.js';
import { Labels1764000000008 } from '../migrations/0008-labels.js';
import { Doors1764000000010 } from '../migrations/0010-doors.js';
import { OnePipeline1764000000012 } from '../migrations/0012-one-pipeline.js';
import { Unmaskings1764000000013 } from '../migrations/0013-unmaskings.js';
import { AccountsAndTrail1764000000015 } from '../migrations/0015-accounts-and-trail.js';
import { TrailEntity, TrailHeadEntity, TrailSegmentEntity } from '../platform/trail/trail.entity.js';
import { AgentLimits1764000000014 } from '../migrations/0014-agent-limits.js';
import { PagesAndLabels1764000000011 } from '../migrations/0011-pages-and-labels.js';
import { SpotsAndMachines1764000000009 } from '../migrations/0009-spots-and-machines.js';
import { DocumentEntity } from '../stand-ins/documents/document.entity.js';
import { DocumentShareEntity } from '../stand-ins/documents/document-share.entity.js';
import { LabelChangeEntity } from '../labels/label-change.entity.js';
import { LabelHistoryEntity, LabelPartEntity, SignOffEntity } from '../labels/label.entity.js';
import { LabelRunEntity, LabelRunItemEntity } from '../labels/runs/label-run.entity.js';
import { PlaceEntity } from '../directory/place.entity.js';
import { KeptOriginalEntity, KeptPicturesEntity } from '../incidents/kept/kept.entity.js';
import { StandingApprovalEntity } from '../movements/approvals/standing-approval.entity.js';
import { PendingEntity } from '../movements/pending/pending.entity.js';
import { DigestEntity } from '../movements/notice/digest.entity.js';
import type { Config } from '../platform/config.js';
import { CONNECTIONS } from '../platform/database/transactional-data-source.js';

export const ENTITIES = [
  InstallationEntity,
  DataKeyEntity,
  AccountEntity,
  SessionEntity,
  InvitationEntity,
  TrailEntity,
  TrailHeadEntity,
  TrailSegmentEntity,
  OrganisationEntity,
  PersonEntity,
  KeptForEntity,
  LegalHoldEntity,
  OwnRoleEntity,
  DeputyEntity,
  ServiceKeyEntity,
  ConsentEntity,
  PasskeyEntity,
  SignOnEntity,
  UsedChallengeEntity,
  PeopleGroupEntity,
  FormerPersonEntity,
  DirectoryChangeEntity,
  DirectoryServerEntity,
  ScimResourceEntity,
  ScimMemberEntity,
  ScimSettingEntity,
  PartnerEntity,
  MachineEntity,
  MachineGroupEntity,
  AgentEntity,
  SubmissionEntity,
  ChannelSettingEntity,
  RoomEntity,
  DriveFileEntity,
  DriveShareEntity,
  GatewayMailEntity,
  OutgoingMailEntity,
  OutgoingRecipientEntity,
  PostMailEntity,
  PostEntity,
  PostFileEntity,
  OwnPatternEntity,
  AdjustedPatternEntity,
  SpecimenEntity,
  RecordSourceEntity,
  RecordChunkEntity,
  DocumentPatternEntity,
  DocumentSampleEntity,
  DocumentPieceEntity,
  PolicyDraftEntity,
  SetPartEntity,
  RevisionEntity,
  JournalEntity,
  JournalSettingEntity,
  ReplayEntity,
  PendingEntity,
  DigestEntity,
  MovementEntity,
  MatchEntity,
  IncidentEntity,
  EvidenceEntity,
  HistoryEntity,
  TraitEntity,
  KnownNameEntity,
  DeskSettingEntity,
  DeskViewEntity,
  PreventionEntity,
  ImprovementEntity,
  ReportEntity,
  ReportRunEntity,
  GuardDayEntity,
  BulkEntity,
  BulkItemEntity,
  QuestionEntity,
  HookEntity,
  DeliveryEntity,
  RoutingRuleEntity,
  AlertEntity,
  MailMessageEntity,
  MailAttachmentEntity,
  MailFileEntity,
  LabelPartEntity,
  LabelHistoryEntity,
  SignOffEntity,
  LabelChangeEntity,
  DocumentEntity,
  DocumentShareEntity,
  PlaceEntity,
  LabelRunEntity,
  LabelRunItemEntity,
  ReaderCodeEntity,
  ReaderEntity,
  WatchChangeEntity,
  WatchDraftEntity,
  WatchGroupEntity,
  PersonFactorEntity,
  PersonPasskeyEntity,
  KeptOriginalEntity,
  KeptPicturesEntity,
  RoutedResponseEntity,
  StandingApprovalEntity,
  RaisedTrustEntity,
  LedgerDeedEntity,
  LedgerKeyEntity,
  LedgerReportEntity,
  CrossingPartEntity,
  AutomationEntity,
  FlowRunEntity,
  AssistantTalkEntity,
  DiscoveryPlaceEntity,
  JobEntity,
  RunEntity,
  PartEntity,
  ItemEntity,
  FoundEntity,
  ItemEvidenceEntity,
  ItemChangeEntity,
  ActEntity,
  ActItemEntity,
  FetchEntity,
  LookedForEntity,
  ItemQueryEntity,
  CleanUpEntity,
  CleanUpItemEntity,
];

const MIGRATIONS = [
  FirstLight1764000000001,
  AdjustedPatterns1764000000002,
  OwnExpressions1764000000003,
  OwnRecords1764000000004,
  WordThreshold1764000000005,
  OwnDocuments1764000000006,
  RulesInFull1764000000007,
  Labels1764000000008,
  SpotsAndMachines1764000000009,
  Doors1764000000010,
  PagesAndLabels1764000000011,
  OnePipeline1764000000012,
  Unmaskings1764000000013,
  AgentLimits1764000000014,
  AccountsAndTrail1764000000015,
  Triage1764000000016,
  Response1764000000017,
  Insight1764600000018,
  Discovery1764700000019,
  DrivePlaces1764800000020,
  Watching1764900000021,
  Crossings1765000000022,
  Applications1765000000023,
  Directory1765100000024,
  Retention1765200000025,
  Access1765300000026,
  KeysAndTrail1765400000027,
  Scim1765500000028,
  AutomationsAtWork1765600000029,
  Approvals1765700000030,
  Counts1765800000031,
  ReportedFindings1765900000032,
  FoundFollowUp1766000000033,
  GroupSettings1766100000034,
];

/** A database on the same machine answers at once, or not at all. */
const CONNECT_WITHIN_MS = 5_000;

/** How the server reaches its database; the schema comes from migrations only. */
export function databaseOptions(config: Config): TypeOrmModuleOptions {
  return {
    type: 'mariadb',
    ...config.database,
    charset: 'utf8mb4',
    timezone: 'Z',
    entities: ENTITIES,
    migrations: MIGRATIONS,
    migrationsRun: true,
    synchronize: false,
    // Values in a failing statement are content; the filter logs kind and place only.
    logging: false,
    retryAttempts: 3,
    retryDelay: 500,
    extra: { connectionLimit: CONNECTIONS, connectTimeout: CONNECT_WITHIN_MS },
  };
}
