import { Global, Module } from '@nestjs/common';
import { PublishedRevision } from './published-revision.js';

const PROVIDERS = [PublishedRevision];

/** The revision in force. */
@Global()
@Module({ providers: PROVIDERS, exports: PROVIDERS })
export class PublishedModule {}
