import { Global, Module } from '@nestjs/common';
import { DraftSetService } from './draft-set.service.js';
import { PoliciesController } from './policies.controller.js';
import { PoliciesService } from './policies.service.js';
import { ExchangesController } from './set-parts.controller.js';
import { TextsController } from './set-parts.controller.js';
import { SpotsController } from './set-parts.controller.js';
import { SetPartsService } from './set-parts.service.js';
import { PoliciesThatAsk } from '../patterns/policies-that-ask.js';

const PROVIDERS = [
  DraftSetService,
  PoliciesService,
  SetPartsService,
  { provide: PoliciesThatAsk, useExisting: DraftSetService },
];

/** Drafts of policies and of what they refer to. */
@Global()
@Module({
  controllers: [PoliciesController, TextsController, ExchangesController, SpotsController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class PoliciesModule {}
