import { READY_PATTERNS } from '@lantern/core/detection';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { DocumentPatternEntity } from '../inspection/sources/document-pattern.entity.js';
import { RecordSourceEntity } from '../inspection/sources/record-source.entity.js';
import { OwnPatternEntity } from './own-pattern.entity.js';

/** Names of all patterns, ready and own, as drafted. */
@Injectable()
export class PatternNames {
  constructor(
    @InjectRepository(OwnPatternEntity) private readonly own: Repository<OwnPatternEntity>,
    @InjectRepository(RecordSourceEntity) private readonly records: Repository<RecordSourceEntity>,
    @InjectRepository(DocumentPatternEntity) private readonly documents: Repository<DocumentPatternEntity>,
  ) {}

  /** Every pattern that a rule may ask for, by id, with its name. */
  async all(): Promise<Map<string, string>> {
    const select = { id: true, name: true } as const;
    const own = await this.own.find({ select });
    const records = await this.records.find({ select });
    const documents = await this.documents.find({ select });
    return new Map(
      [...READY_PATTERNS, ...own, ...records, ...documents].map(({ id, name }) => [String(id), name]),
    );
  }
}
