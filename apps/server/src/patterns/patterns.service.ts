import { randomUUID } from 'node:crypto';
import type {
  PatternDetail,
  PatternSummary,
  SavedWordList,
  SaveWeightsRequest,
  SaveWordListRequest,
  WordListOutcome,
  WordListRequest,
} from '@lantern/contracts';
import {
  MAX_WEIGHT,
  type PatternWeights,
  READY_PATTERNS,
  type ReadyPattern,
  readWordLines,
  WEIGHT_NAMES,
  type WordListReading,
} from '@lantern/core/detection';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { DataSource, Repository } from 'typeorm';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { PoliciesThatAsk } from './policies-that-ask.js';
import { PublishedRevision } from '../published/published-revision.js';
import { IncidentEntity } from '../incidents/incident.entity.js';
import { AdjustedPatternEntity } from './adjusted-pattern.entity.js';
import { DocumentPatternEntity } from '../inspection/sources/document-pattern.entity.js';
import { documentsDetail, documentsSummary } from './documents/document-pattern.mapper.js';
import { DocumentsService } from './documents/documents.service.js';
import { demandFreeName } from './free-name.js';
import { RecordSourceEntity } from '../inspection/sources/record-source.entity.js';
import { RecordsService } from './records/records.service.js';
import { OwnPatternEntity } from './own-pattern.entity.js';
import {
  type Decisions,
  ownDetail,
  ownSummary,
  type PatternUse,
  readyDetail,
  readySummary,
  recordsDetail,
  recordsSummary,
  usedByPolicies,
} from './pattern.mapper.js';

@Injectable()
export class PatternsService {
  constructor(
    @InjectRepository(OwnPatternEntity) private readonly own: Repository<OwnPatternEntity>,
    @InjectRepository(AdjustedPatternEntity) private readonly adjusted: Repository<AdjustedPatternEntity>,
    @InjectRepository(RecordSourceEntity) private readonly recordEntities: Repository<RecordSourceEntity>,
    @InjectRepository(DocumentPatternEntity)
    private readonly documentEntities: Repository<DocumentPatternEntity>,
    @InjectRepository(IncidentEntity) private readonly incidents: Repository<IncidentEntity>,
    private readonly asking: PoliciesThatAsk,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
    private readonly records: RecordsService,
    private readonly documents: DocumentsService,
    private readonly database: DataSource,
  ) {}

  async list(): Promise<PatternSummary[]> {
    const use = await this.use();
    const own = await this.own.find({ order: { name: 'ASC' } });
    const records = await this.records.list();
    const documents = await this.documents.list();
    return [
      ...own.map((entity) => ownSummary(entity, use)),
      ...records.map((entity) => recordsSummary(entity, use)),
      ...documents.map((entity) => documentsSummary(entity, use)),
      ...READY_PATTERNS.map((pattern) => readySummary(pattern, use)),
    ];
  }

  async get(id: string): Promise<PatternDetail> {
    const ready = READY_PATTERNS.find((pattern) => pattern.id === id);
    if (ready) return readyDetail(ready, await this.use());
    const records = await this.recordEntities.findOneBy({ id });
    if (records) return recordsDetail(records, await this.use());
    const documents = await this.documentEntities.findOneBy({ id });
    if (documents) return documentsDetail(documents, await this.documents.samplesOf(id), await this.use());
    return ownDetail(await this.getOwn(id), await this.use());
  }

  async create(request: WordListRequest, caller: Caller): Promise<SavedWordList> {
    const reading = readWordLines(request.words);
    await demandFreeName(this.database, request.name, '');
    const entity = this.own.create({
      id: randomUUID(),
      ...this.fields(request, reading, caller),
      expression: null,
      version: 1,
    });
    await this.own.insert(entity);
    this.live.publish({ kind: 'drafts-changed' });
    return { pattern: await this.get(entity.id), outcome: toOutcome(reading) };
  }

  async save(id: string, request: SaveWordListRequest, caller: Caller): Promise<SavedWordList> {
    const before = await this.getOwn(id);
    if (before.expression) throw new AppError('not-found', 'This word list does not exist.');
    await demandFreeName(this.database, request.name, id);
    const reading = readWordLines(request.words);
    const changed = await this.own.update(
      { id, version: request.version },
      { ...this.fields(request, reading, caller), version: request.version + 1 },
    );
    if (changed.affected === 0) {
      throw new AppError(
        'changed-meanwhile',
        `${before.updatedBy} saved this list in the meantime. Your text was not saved and is still here. Check theirs before you save again.`,
        { details: { by: before.updatedBy, version: before.version } },
      );
    }
    this.live.publish({ kind: 'drafts-changed' });
    return { pattern: await this.get(id), outcome: toOutcome(reading) };
  }

  /** Replaces weights of a ready pattern in the draft; weights equal to those that ship are not kept. */
  async saveWeights(id: string, request: SaveWeightsRequest, caller: Caller): Promise<PatternDetail> {
    const ready = READY_PATTERNS.find((pattern) => pattern.id === id);
    if (!ready) throw new AppError('not-found', 'This ready pattern does not exist.');
    const weights = chosenWeights(ready, request.weights);
    const before = await this.adjusted.findOneBy({ id });
    const fields = { weights, version: request.version + 1, updatedAt: new Date(), updatedBy: caller.name };
    const kept = await this.keepWeights(id, request.version, fields);
    if (!kept) {
      throw new AppError(
        'changed-meanwhile',
        `${before?.updatedBy ?? 'Somebody else'} changed these weights in the meantime. Yours were not saved and are still here. Check theirs before you save again.`,
        { details: { by: before?.updatedBy ?? '', version: before?.version ?? 0 } },
      );
    }
    this.live.publish({ kind: 'drafts-changed' });
    return this.get(id);
  }

  private async keepWeights(
    id: string,
    version: number,
    fields: Pick<AdjustedPatternEntity, 'weights' | 'version' | 'updatedAt' | 'updatedBy'>,
  ): Promise<boolean> {
    if (version > 0) return (await this.adjusted.update({ id, version }, fields)).affected === 1;
    const inserted = await this.adjusted
      .createQueryBuilder()
      .insert()
      .orIgnore()
      .values({ id, ...fields })
      .execute();
    return (inserted.raw as { affectedRows: number }).affectedRows === 1;
  }

  async remove(id: string): Promise<void> {
    const records = await this.recordEntities.findOneBy({ id });
    const documents = await this.documentEntities.findOneBy({ id });
    const entity = records ?? documents ?? (await this.getOwn(id));
    const use = await this.use();
    // Hashes and what was learnt go at once: a published rule that still looks for them would find nothing and tell nobody.
    const published = records || documents ? (this.published.current?.document.policies ?? []) : [];
    const usedBy = [...new Set([...usedByPolicies(id, use.policies), ...usedByPolicies(id, published)])];
    if (usedBy.length > 0)
      throw new AppError(
        'in-use',
        `Rules of ${usedBy.join(', ')} look for "${entity.name}". Remove it from these rules first.`,
        { details: { by: usedBy.join(', ') } },
      );
    if (records) return this.records.remove(id);
    if (documents) return this.documents.remove(id);
    await this.own.delete({ id });
    this.live.publish({ kind: 'drafts-changed' });
  }

  private fields(request: WordListRequest, reading: WordListReading, caller: Caller) {
    return {
      name: request.name.trim(),
      about: request.about,
      words: [...reading.words],
      threshold: request.threshold ?? null,
      inside: request.inside ?? false,
      updatedAt: new Date(),
      updatedBy: caller.name,
    };
  }

  async getOwn(id: string): Promise<OwnPatternEntity> {
    const entity = await this.own.findOneBy({ id });
    if (!entity) throw new AppError('not-found', 'There is no such pattern.');
    return entity;
  }

  private async use(): Promise<PatternUse> {
    const published = this.published.current?.document.patterns ?? [];
    const [policies, adjusted, decisions] = await Promise.all([
      this.asking.policies(),
      this.adjusted.find(),
      this.decisions(),
    ]);
    return { policies, published, adjusted, decisions };
  }

  /** How often findings of each pattern turned out to be none, over all decided incidents. */
  private async decisions(): Promise<Map<string, Decisions>> {
    const decided = await this.incidents.find({
      select: { number: true, counts: true, outcome: true },
      where: { status: 'decided' },
    });
    const byPattern = new Map<string, Decisions>();
    for (const { counts, outcome } of decided) {
      for (const { pattern } of counts) {
        const known = byPattern.get(pattern) ?? { decided: 0, falsePositives: 0 };
        byPattern.set(pattern, {
          decided: known.decided + 1,
          falsePositives: known.falsePositives + (outcome === 'false-positive' ? 1 : 0),
        });
      }
    }
    return byPattern;
  }
}

/** Weights that differ from those that ship; throws for a name or a number that is none. */
function chosenWeights(
  ready: ReadyPattern,
  given: Readonly<Record<string, number>>,
): Partial<PatternWeights> {
  const known: readonly string[] = WEIGHT_NAMES;
  const wrong = Object.entries(given).find(
    ([name, weight]) => !known.includes(name) || !Number.isFinite(weight) || Math.abs(weight) > MAX_WEIGHT,
  );
  if (wrong) {
    throw new AppError(
      'invalid-request',
      `"${wrong[0].slice(0, 40)}" is not a weight, or its value is not a number from -${MAX_WEIGHT} to ${MAX_WEIGHT}. Nothing was saved.`,
    );
  }
  const different = WEIGHT_NAMES.filter(
    (name) => given[name] !== undefined && given[name] !== ready.weights[name],
  );
  return Object.fromEntries(different.map((name) => [name, given[name]]));
}

function toOutcome(reading: WordListReading): WordListOutcome {
  const { words, blankLines, duplicates, overLimit } = reading;
  // A long list of line numbers helps nobody; the first hundred show the kind of trouble.
  return {
    kept: words.length,
    blankLines,
    duplicates,
    overLimit,
    tooLong: reading.tooLong.slice(0, 100),
    withoutLetters: reading.withoutLetters.slice(0, 100),
  };
}
