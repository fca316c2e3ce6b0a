import { Global, Module } from '@nestjs/common';
import { JournalController } from './journal.controller.js';
import { JournalService } from './journal.service.js';

const PROVIDERS = [JournalService];

/** Kept movements. */
@Global()
@Module({ controllers: [JournalController], providers: PROVIDERS, exports: PROVIDERS })
export class JournalModule {}
