import { Global, Module } from '@nestjs/common';
import { RevisionsController } from './revisions.controller.js';
import { RevisionsService } from './revisions.service.js';
import { SetFilesController } from './set-files.controller.js';
import { SetFilesService } from './set-files.service.js';
import { WhoIsMeant } from './who-is-meant.js';

const PROVIDERS = [SetFilesService, RevisionsService, WhoIsMeant];

/** Drafts as one set: changes, publishing, import and export. */
@Global()
@Module({ controllers: [SetFilesController, RevisionsController], providers: PROVIDERS, exports: PROVIDERS })
export class RevisionsModule {}
