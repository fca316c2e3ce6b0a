import { Global, Module } from '@nestjs/common';
import { FileWork } from './file-work.service.js';
import { InspectionService } from './inspection.service.js';
import { DocumentSources } from './sources/document-sources.js';
import { RecordSources } from './sources/record-sources.js';

const PROVIDERS = [RecordSources, DocumentSources, InspectionService, FileWork];

/** Reading of content and looking for patterns in it. */
@Global()
@Module({ providers: PROVIDERS, exports: PROVIDERS })
export class InspectionModule {}
