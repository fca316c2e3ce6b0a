import { Global, Module } from '@nestjs/common';
import { EarlierMovements } from './earlier-movements.js';
import { IncidentsController } from './incidents.controller.js';
import { IncidentsService } from './incidents.service.js';
import { Unmaskings } from './unmaskings.service.js';

const PROVIDERS = [EarlierMovements, Unmaskings, IncidentsService];

/** Incidents, their history and their evidence. */
@Global()
@Module({ controllers: [IncidentsController], providers: PROVIDERS, exports: PROVIDERS })
export class IncidentsModule {}
