import { Global, Module } from '@nestjs/common';
import { Acts } from './acts.service.js';
import { AlikeIncidents } from './alike/alike.service.js';
import { Surroundings } from './around/around.service.js';
import { BulkController } from './bulk/bulk.controller.js';
import { BulkDecisions } from './bulk/bulk.service.js';
import { ExportController } from './export/export.controller.js';
import { CaseFolders } from './export/case-folder.service.js';
import { Exports } from './export/export.service.js';
import { DeskController } from './desk.controller.js';
import { Mentions } from './mentions.service.js';
import { Presence } from './presence.service.js';
import { DeskViews } from './views/desk-views.service.js';
import { DeskCounts } from './counts/desk-counts.service.js';
import { RowCounts } from './counts/row-counts.service.js';
import { Cases } from './alike/cases.service.js';
import { EarlierMovements } from './earlier-movements.js';
import { IncidentsController } from './incidents.controller.js';
import { IncidentsService } from './incidents.service.js';
import { KnownNames } from './known-names.service.js';
import { PromisesService } from './promises.service.js';
import { QueueController } from './queue/queue.controller.js';
import { Queue } from './queue/queue.service.js';
import { AllFindings } from './kept/all-findings.service.js';
import { KeptCopies } from './kept/kept-copies.service.js';
import { Unmaskings } from './unmaskings.service.js';

const PROVIDERS = [
  DeskCounts,
  RowCounts,
  EarlierMovements,
  Unmaskings,
  KeptCopies,
  AllFindings,
  KnownNames,
  PromisesService,
  Cases,
  Acts,
  Queue,
  BulkDecisions,
  AlikeIncidents,
  Surroundings,
  DeskViews,
  Presence,
  Mentions,
  Exports,
  CaseFolders,
  IncidentsService,
];

/** Incidents, their history and their evidence. */
@Global()
@Module({
  controllers: [ExportController, QueueController, DeskController, BulkController, IncidentsController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class IncidentsModule {}
