import { Global, Module } from '@nestjs/common';
import { LegalHolds } from './legal-holds.service.js';
import { PersonDataService } from './person-data.service.js';
import { RetentionController } from './retention.controller.js';
import { Retention } from './retention.service.js';

/** How long things are kept, and what is kept in any case. */
@Global()
@Module({
  controllers: [RetentionController],
  providers: [Retention, LegalHolds, PersonDataService],
  exports: [Retention],
})
export class RetentionModule {}
