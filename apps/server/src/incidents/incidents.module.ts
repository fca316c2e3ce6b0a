import { Global, Module } from '@nestjs/common';
import { Acts } from './acts.service.js';
import { Cases } from './alike/cases.service.js';
import { EarlierMovements } from './earlier-movements.js';
import { IncidentsController } from './incidents.controller.js';
import { IncidentsService } from './incidents.service.js';
import { KnownNames } from './known-names.service.js';
import { PromisesService } from './promises.service.js';
import { QueueController } from './queue/queue.controller.js';
import { Queue } from './queue/queue.service.js';
import { Unmaskings } from './unmaskings.service.js';

const PROVIDERS = [
  EarlierMovements,
  Unmaskings,
  KnownNames,
  PromisesService,
  Cases,
  Acts,
  Queue,
  IncidentsService,
];

/** Incidents, their history and their evidence. */
@Global()
@Module({ controllers: [QueueController, IncidentsController], providers: PROVIDERS, exports: PROVIDERS })
export class IncidentsModule {}
