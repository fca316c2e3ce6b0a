import { type DynamicModule, Module, type Provider } from '@nestjs/common';
import { APP_FILTER, APP_GUARD, APP_PIPE } from '@nestjs/core';
import { TypeOrmModule } from '@nestjs/typeorm';
import { SessionController } from './accounts/session.controller.js';
import { AccountsService } from './accounts/accounts.service.js';
import { SessionService } from './accounts/session.service.js';
import { ChannelSettings } from './movements/channels/channel-settings.service.js';
import { MovementJudge } from './movements/judge.service.js';
import { AgentsService } from './doors/agents/agents.service.js';
import { Movements } from './movements/movements.service.js';
import { AgentsController, ChannelsController, IntakeController } from './doors/agents/intake.controller.js';
import { IntakeService } from './doors/agents/intake.service.js';
import { ChatController } from './stand-ins/posts/chat.controller.js';
import { ChatService } from './stand-ins/posts/chat.service.js';
import { DeskController } from './stand-ins/posts/desk.controller.js';
import { DeskService } from './stand-ins/posts/desk.service.js';
import { GatewayServer } from './doors/smtp/gateway.server.js';
import { GatewayService } from './doors/smtp/gateway.service.js';
import { OutgoingService } from './doors/outgoing/outgoing.service.js';
import { OutsideMailController } from './stand-ins/outside-mail/post.controller.js';
import { PersonAnswers } from './movements/person-answers.service.js';
import { PostOffice } from './stand-ins/outside-mail/post-office.js';
import { DriveActs } from './stand-ins/drive/drive-acts.service.js';
import { DriveController } from './stand-ins/drive/drive.controller.js';
import { DriveLeaves } from './stand-ins/drive/drive-leaves.service.js';
import { DriveLabels } from './stand-ins/drive/drive-labels.service.js';
import { DriveFiles } from './stand-ins/drive/drive-files.service.js';
import { DriveService } from './stand-ins/drive/drive.service.js';
import { DriveShares } from './stand-ins/drive/drive-shares.service.js';
import { Reports } from './movements/reports.service.js';
import { PostActs } from './stand-ins/posts/post-acts.service.js';
import { PostsController } from './stand-ins/posts/posts.controller.js';
import { PostLabels } from './stand-ins/posts/post-labels.service.js';
import { PostsService } from './stand-ins/posts/posts.service.js';
import { Outcomes } from './movements/outcomes.js';
import { MailWindow } from './stand-ins/mail/mail-window.service.js';
import { MailLabels } from './stand-ins/mail/mail-labels.service.js';
import { MailController } from './stand-ins/mail/mail.controller.js';
import { MailboxService } from './stand-ins/mail/mailbox.service.js';
import { DemoMoves } from './demo/demo-moves.service.js';
import { DemoLabels } from './demo/demo-labels.service.js';
import { DemoService } from './demo/demo.service.js';
import { IncidentsController } from './incidents/incidents.controller.js';
import { IncidentsService } from './incidents/incidents.service.js';
import { Unmaskings } from './incidents/unmaskings.service.js';
import { SystemMailOut } from './doors/outgoing/system-mail.service.js';
import { RecorderService } from './movements/recorder.service.js';
import { MailRoutes } from './doors/outgoing/mail-routes.js';
import { FileWork } from './inspection/file-work.service.js';
import { InsideMail } from './movements/inside-mail.js';
import { DocumentMovements } from './stand-ins/documents/document-movements.service.js';
import { DemoState } from './demo/demo-state.js';
import { InspectionService } from './inspection/inspection.service.js';
import { LanternController } from './lantern/lantern.controller.js';
import { LanternService } from './lantern/lantern.service.js';
import { OwnPatternsService } from './patterns/own-patterns.service.js';
import { PatternsController } from './patterns/patterns.controller.js';
import { ExpressionsService } from './patterns/expressions.service.js';
import { RecordsController } from './patterns/records/records.controller.js';
import { RecordsService } from './patterns/records/records.service.js';
import { DocumentSources } from './patterns/documents/document-sources.js';
import { DocumentsController } from './patterns/documents/documents.controller.js';
import { DocumentsService } from './patterns/documents/documents.service.js';
import { RecordSources } from './patterns/records/record-sources.js';
import { SpecimensController } from './patterns/specimens.controller.js';
import { SpecimensService } from './patterns/specimens.service.js';
import { PatternsService } from './patterns/patterns.service.js';
import { PeopleController } from './people/people.controller.js';
import { MachinesService } from './people/machines.service.js';
import { PeopleService } from './people/people.service.js';
import { AccessGuard } from './platform/auth/access-guard.js';
import { CONFIG, type Config } from './platform/config.js';
import type { DataSourceOptions } from 'typeorm';
import { databaseOptions, ENTITIES } from './platform/database/database.js';
import { TransactionalDataSource } from './platform/database/transactional-data-source.js';
import { ErrorFilter } from './platform/errors/error-filter.js';
import { validationPipe } from './platform/errors/validation.js';
import { HealthController } from './overview/health.controller.js';
import { LiveController } from './overview/live.controller.js';
import { LiveEvents } from './platform/live/live-events.js';
import { JournalController } from './journal/journal.controller.js';
import { JournalService } from './journal/journal.service.js';
import { EarlierMovements } from './incidents/earlier-movements.js';
import { MatchMails } from './movements/notice/match-mails.service.js';
import { CoverageController } from './policies/coverage.controller.js';
import { CoverageService } from './policies/coverage.service.js';
import { DraftSetService } from './policies/draft-set.service.js';
import { ExchangesController, SpotsController, TextsController } from './policies/set-parts.controller.js';
import { SetFilesController } from './policies/set-files.controller.js';
import { SetFilesService } from './policies/set-files.service.js';
import { SetPartsService } from './policies/set-parts.service.js';
import { ReplayController } from './replay/replay.controller.js';
import { JournalFiguresService } from './replay/journal-figures.service.js';
import { ReplayRunner } from './replay/replay-runner.js';
import { ReplayService } from './replay/replay.service.js';
import { DocumentWindowController } from './stand-ins/documents/documents.controller.js';
import { DocumentFiles } from './stand-ins/documents/document-files.service.js';
import { DocumentRules } from './stand-ins/documents/document-rules.service.js';
import { DocumentWindow } from './stand-ins/documents/documents.service.js';
import { LabelChangesService } from './labels/label-changes.service.js';
import { LabelDraftsService } from './labels/label-drafts.service.js';
import { LabelReviewService } from './labels/label-review.service.js';
import { LabelTelling } from './labels/label-telling.service.js';
import { LabelsAtWorkController } from './labels/labels-at-work.controller.js';
import { LabelsAtWork } from './labels/labels-at-work.service.js';
import { LabelsController } from './labels/labels.controller.js';
import { LabelRunsController, PlacesController } from './labels/runs/label-runs.controller.js';
import { LabelRunUndo } from './labels/runs/label-run-undo.service.js';
import { LabelRunsService } from './labels/runs/label-runs.service.js';
import { PlacesService } from './labels/runs/places.service.js';
import { PendingController } from './movements/pending/pending.controller.js';
import { PendingService } from './movements/pending/pending.service.js';
import { OverviewController } from './overview/overview.controller.js';
import { PoliciesController } from './policies/policies.controller.js';
import { PoliciesService } from './policies/policies.service.js';
import { PublishedRevision } from './policies/published-revision.js';
import { RevisionsController } from './policies/revisions.controller.js';
import { RevisionsService } from './policies/revisions.service.js';

/** Everything that one server has one of. */
const PROVIDERS: Provider[] = [
  { provide: APP_GUARD, useClass: AccessGuard },
  { provide: APP_FILTER, useClass: ErrorFilter },
  { provide: APP_PIPE, useFactory: validationPipe },
  AccountsService,
  SessionService,
  PeopleService,
  MachinesService,
  Outcomes,
  MovementJudge,
  ChannelSettings,
  AgentsService,
  Movements,
  IntakeService,
  PersonAnswers,
  PostOffice,
  OutgoingService,
  SystemMailOut,
  GatewayService,
  GatewayServer,
  ChatService,
  DriveFiles,
  DriveLabels,
  DriveLeaves,
  DriveShares,
  DriveActs,
  DriveService,
  DeskService,
  Reports,
  PostsService,
  PostLabels,
  PostActs,
  PatternsService,
  OwnPatternsService,
  SpecimensService,
  ExpressionsService,
  RecordSources,
  RecordsService,
  DocumentSources,
  DocumentsService,
  DraftSetService,
  PoliciesService,
  SetPartsService,
  SetFilesService,
  CoverageService,
  LabelDraftsService,
  LabelReviewService,
  LabelChangesService,
  LabelTelling,
  LabelsAtWork,
  DocumentFiles,
  DocumentRules,
  DocumentWindow,
  PlacesService,
  LabelRunUndo,
  LabelRunsService,
  RevisionsService,
  JournalService,
  EarlierMovements,
  MatchMails,
  PendingService,
  ReplayRunner,
  JournalFiguresService,
  ReplayService,
  PublishedRevision,
  InspectionService,
  FileWork,
  InsideMail,
  MailRoutes,
  DocumentMovements,
  DemoState,
  RecorderService,
  Unmaskings,
  IncidentsService,
  LanternService,
  MailboxService,
  MailLabels,
  MailWindow,
  LiveEvents,
  DemoService,
  DemoLabels,
  DemoMoves,
];

/** Windows of people at work and the world outside: only with the demo, or where somebody switched them on. */
const STAND_INS = [
  MailController,
  ChatController,
  DeskController,
  PostsController,
  DriveController,
  DocumentWindowController,
  OutsideMailController,
];

@Module({})
export class AppModule {
  /** The whole server for one configuration. */
  static of(config: Config): DynamicModule {
    return {
      module: AppModule,
      imports: [
        TypeOrmModule.forRootAsync({
          useFactory: () => databaseOptions(config),
          dataSourceFactory: (options) =>
            new TransactionalDataSource(options as DataSourceOptions).initialize(),
        }),
        TypeOrmModule.forFeature(ENTITIES),
      ],
      controllers: [
        HealthController,
        SessionController,
        OverviewController,
        PeopleController,
        PatternsController,
        SpecimensController,
        RecordsController,
        DocumentsController,
        PoliciesController,
        TextsController,
        ExchangesController,
        SpotsController,
        IntakeController,
        AgentsController,
        ChannelsController,
        SetFilesController,
        LabelsController,
        PlacesController,
        LabelRunsController,
        LabelsAtWorkController,
        CoverageController,
        RevisionsController,
        ReplayController,
        JournalController,
        PendingController,
        IncidentsController,
        LanternController,
        LiveController,
        ...(config.standIns ? STAND_INS : []),
      ],
      providers: [{ provide: CONFIG, useValue: config }, ...PROVIDERS],
    };
  }
}
