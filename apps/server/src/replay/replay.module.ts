import { Global, Module } from '@nestjs/common';
import { JournalFiguresController } from './journal-figures.controller.js';
import { JournalFiguresService } from './journal-figures.service.js';
import { ReplayRunner } from './replay-runner.js';
import { ReplayController } from './replay.controller.js';
import { ReplayService } from './replay.service.js';

const PROVIDERS = [ReplayRunner, JournalFiguresService, ReplayService];

/** Drafts judged over the journal and over stored files. */
@Global()
@Module({
  controllers: [ReplayController, JournalFiguresController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class ReplayModule {}
