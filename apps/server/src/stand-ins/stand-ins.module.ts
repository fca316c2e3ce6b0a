import { type DynamicModule, Global, Module } from '@nestjs/common';
import { BuilderController } from './automations/builder.controller.js';
import { Builder } from './automations/builder.service.js';
import { AssistantSources } from './automations/assistants/assistant-sources.service.js';
import { AssistantsController } from './automations/assistants/assistants.controller.js';
import { Assistants } from './automations/assistants/assistants.service.js';
import { FlowRunner } from './automations/runs/flow-runner.service.js';
import { FlowRunsController } from './automations/runs/flow-runs.controller.js';
import { StepDoers } from './automations/runs/step-doers.service.js';
import { DocumentCarriers } from './documents/document-carriers.js';
import { DocumentFiles } from './documents/document-files.service.js';
import { DocumentMovements } from './documents/document-movements.service.js';
import { DocumentRules } from './documents/document-rules.service.js';
import { DocumentWindowController } from './documents/documents.controller.js';
import { DocumentWindow } from './documents/documents.service.js';
import { DriveActs } from './drive/drive-acts.service.js';
import { DriveFiles } from './drive/drive-files.service.js';
import { DriveMovements } from './drive/drive-movements.service.js';
import { DriveLabels } from './drive/drive-labels.service.js';
import { DriveLeaves } from './drive/drive-leaves.service.js';
import { DriveShares } from './drive/drive-shares.service.js';
import { DriveController } from './drive/drive.controller.js';
import { DriveService } from './drive/drive.service.js';
import { DrivePlacesController } from './drive/places/drive-places.controller.js';
import { DrivePlaces } from './drive/places/drive-places.service.js';
import { PlaceDisk } from './drive/places/place-disk.service.js';
import { PlaceFiles } from './drive/places/place-files.service.js';
import { PlaceGuards } from './drive/places/place-guards.service.js';
import { PlaceFollowing } from './drive/places/place-following.service.js';
import { Players } from './drive/players.service.js';
import { PlaceOpenings } from '../discovery/places/place-openings.js';
import { Ledger } from './ledger/ledger.service.js';
import { LedgerController } from './ledger/ledger.controller.js';
import { LedgerDeeds } from './ledger/ledger-deeds.service.js';
import { LedgerInterfaceController } from './ledger/ledger-interface.controller.js';
import { LedgerKeys } from './ledger/ledger-keys.service.js';
import { PhoneController } from './phone/phone.controller.js';
import { MailWindow } from './mail/mail-window.service.js';
import { MailController } from './mail/mail.controller.js';
import { MailboxService } from './mail/mailbox.service.js';
import { PostOffice } from './outside-mail/post-office.js';
import { OutsideMailController } from './outside-mail/post.controller.js';
import { ChatController } from './posts/chat.controller.js';
import { ChatService } from './posts/chat.service.js';
import { DeskController } from './posts/desk.controller.js';
import { DeskService } from './posts/desk.service.js';
import { PostActs } from './posts/post-acts.service.js';
import { PostLabels } from './posts/post-labels.service.js';
import { PostsController } from './posts/posts.controller.js';
import { PostsService } from './posts/posts.service.js';
import { Mailboxes } from '../movements/mail/mailboxes.js';

const PROVIDERS = [
  PostOffice,
  ChatService,
  Players,
  PlaceGuards,
  PlaceDisk,
  PlaceFiles,
  PlaceFollowing,
  { provide: PlaceOpenings, useExisting: PlaceFollowing },
  DriveMovements,
  DrivePlaces,
  Builder,
  StepDoers,
  FlowRunner,
  AssistantSources,
  Assistants,
  DriveFiles,
  DriveLabels,
  DriveLeaves,
  DriveShares,
  DriveActs,
  DriveService,
  DeskService,
  PostsService,
  PostLabels,
  PostActs,
  LedgerDeeds,
  LedgerKeys,
  Ledger,
  DocumentCarriers,
  DocumentFiles,
  DocumentRules,
  DocumentWindow,
  DocumentMovements,
  MailboxService,
  MailWindow,
  { provide: Mailboxes, useExisting: MailboxService },
];

const WINDOWS = [
  MailController,
  ChatController,
  DeskController,
  PostsController,
  DriveController,
  DrivePlacesController,
  BuilderController,
  FlowRunsController,
  AssistantsController,
  LedgerController,
  LedgerInterfaceController,
  PhoneController,
  DocumentWindowController,
  OutsideMailController,
];

/** Windows of people at work, and the world outside. The windows are there only with the demo, or where somebody switched them on. */
@Global()
@Module({})
export class StandInsModule {
  static of(windows: boolean): DynamicModule {
    return {
      module: StandInsModule,
      controllers: windows ? WINDOWS : [],
      providers: PROVIDERS,
      exports: PROVIDERS,
    };
  }
}
