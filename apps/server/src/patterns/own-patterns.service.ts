import { type OwnPattern, READY_PATTERNS } from '@lantern/core/detection';
import { type PatternId } from '@lantern/core/shared';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { AdjustedPatternEntity } from './adjusted-pattern.entity.js';
import { OwnPatternEntity } from './own-pattern.entity.js';
import { DocumentPatternEntity } from '../inspection/sources/document-pattern.entity.js';
import { toDocumentsPattern } from './documents/document-pattern.mapper.js';
import { RecordSourceEntity } from '../inspection/sources/record-source.entity.js';
import { toAdjusted, toOwnPattern, toRecordsPattern } from './pattern.mapper.js';

/** Everything that the organisation adds to the ready library, as it is being written. */
@Injectable()
export class OwnPatternsService {
  constructor(
    @InjectRepository(OwnPatternEntity) private readonly lists: Repository<OwnPatternEntity>,
    @InjectRepository(AdjustedPatternEntity) private readonly adjusted: Repository<AdjustedPatternEntity>,
    @InjectRepository(RecordSourceEntity) private readonly records: Repository<RecordSourceEntity>,
    @InjectRepository(DocumentPatternEntity) private readonly documents: Repository<DocumentPatternEntity>,
  ) {}

  async drafts(): Promise<OwnPattern[]> {
    const lists = await this.lists.find({ order: { name: 'ASC' } });
    const records = await this.records.find({ order: { name: 'ASC' } });
    const documents = await this.documents.find({ order: { name: 'ASC' } });
    const adjusted = await this.adjusted.find({ order: { id: 'ASC' } });
    return [
      ...lists.map(toOwnPattern),
      ...records.map(toRecordsPattern),
      ...documents.map(toDocumentsPattern),
      ...adjusted.flatMap((entity) => {
        const ready = READY_PATTERNS.find((pattern) => pattern.id === (entity.id as PatternId));
        return ready ? [toAdjusted(entity, ready)] : [];
      }),
    ];
  }
}
