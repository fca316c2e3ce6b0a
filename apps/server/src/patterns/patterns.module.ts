import { Global, Module } from '@nestjs/common';
import { ChangedPattern } from './changed-pattern.service.js';
import { DocumentsController } from './documents/documents.controller.js';
import { DocumentsService } from './documents/documents.service.js';
import { ExpressionsService } from './expressions.service.js';
import { OwnPatternsService } from './own-patterns.service.js';
import { PatternNames } from './pattern-names.js';
import { PatternsController } from './patterns.controller.js';
import { PatternsService } from './patterns.service.js';
import { RecordsController } from './records/records.controller.js';
import { RecordsService } from './records/records.service.js';
import { SpecimensController } from './specimens.controller.js';
import { SpecimensService } from './specimens.service.js';

const PROVIDERS = [
  PatternsService,
  OwnPatternsService,
  SpecimensService,
  ExpressionsService,
  ChangedPattern,
  RecordsService,
  DocumentsService,
  PatternNames,
];

/** Ready and own patterns, records, sample documents and specimens. */
@Global()
@Module({
  controllers: [PatternsController, SpecimensController, RecordsController, DocumentsController],
  providers: PROVIDERS,
  exports: PROVIDERS,
})
export class PatternsModule {}
