import { randomUUID } from 'node:crypto';
import type {
  PatternDetail,
  PatternSummary,
  SavedWordList,
  SaveWordListRequest,
  WordListOutcome,
  WordListRequest,
} from '@lantern/contracts';
import { READY_PATTERNS, readWordLines, type WordListPattern, type WordListReading } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { PoliciesService } from '../policies/policies.service.js';
import { PublishedRevision } from '../policies/published-revision.js';
import { OwnPatternEntity } from './own-pattern.entity.js';
import { ownDetail, ownSummary, type PatternUse, readyDetail, readySummary } from './pattern.mapper.js';

@Injectable()
export class PatternsService {
  constructor(
    @InjectRepository(OwnPatternEntity) private readonly own: Repository<OwnPatternEntity>,
    private readonly policies: PoliciesService,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
  ) {}

  async list(): Promise<PatternSummary[]> {
    const use = await this.use();
    const own = await this.own.find({ order: { name: 'ASC' } });
    return [
      ...own.map((entity) => ownSummary(entity, use)),
      ...READY_PATTERNS.map((pattern) => readySummary(pattern, use)),
    ];
  }

  async get(id: string): Promise<PatternDetail> {
    const ready = READY_PATTERNS.find((pattern) => pattern.id === id);
    if (ready) return readyDetail(ready, await this.use());
    return ownDetail(await this.getOwn(id), await this.use());
  }

  async create(request: WordListRequest, caller: Caller): Promise<SavedWordList> {
    const reading = readWordLines(request.words);
    await this.demandFreeName(request.name, '');
    const entity = this.own.create({
      id: randomUUID(),
      ...this.fields(request, reading, caller),
      version: 1,
    });
    await this.own.insert(entity);
    this.live.publish({ kind: 'drafts-changed' });
    return { pattern: await this.get(entity.id), outcome: toOutcome(reading) };
  }

  async save(id: string, request: SaveWordListRequest, caller: Caller): Promise<SavedWordList> {
    const before = await this.getOwn(id);
    await this.demandFreeName(request.name, id);
    const reading = readWordLines(request.words);
    const changed = await this.own.update(
      { id, version: request.version },
      { ...this.fields(request, reading, caller), version: request.version + 1 },
    );
    if (changed.affected === 0) {
      throw new AppError(
        'changed-meanwhile',
        `${before.updatedBy} saved this list meanwhile. Your text is still here; look at theirs before saving again.`,
        { details: { by: before.updatedBy, version: before.version } },
      );
    }
    this.live.publish({ kind: 'drafts-changed' });
    return { pattern: await this.get(id), outcome: toOutcome(reading) };
  }

  async remove(id: string): Promise<void> {
    const entity = await this.getOwn(id);
    const { usedBy } = ownSummary(entity, await this.use());
    if (usedBy.length > 0)
      throw new AppError(
        'in-use',
        `Rules of ${usedBy.join(', ')} look for "${entity.name}". Take it out of them first.`,
        { details: { by: usedBy.join(', ') } },
      );
    await this.own.delete({ id });
    this.live.publish({ kind: 'drafts-changed' });
  }

  private fields(request: WordListRequest, reading: WordListReading, caller: Caller) {
    return {
      name: request.name.trim(),
      about: request.about,
      words: [...reading.words],
      updatedAt: new Date(),
      updatedBy: caller.name,
    };
  }

  private async getOwn(id: string): Promise<OwnPatternEntity> {
    const entity = await this.own.findOneBy({ id });
    if (!entity) throw new AppError('not-found', 'There is no such pattern.');
    return entity;
  }

  private async demandFreeName(name: string, except: string): Promise<void> {
    const other = await this.own.findOneBy({ name: name.trim() });
    if (other && other.id !== except)
      throw new AppError('name-taken', `Another list is called "${name.trim()}".`);
  }

  private async use(): Promise<PatternUse> {
    const published: readonly WordListPattern[] = this.published.current?.document.patterns ?? [];
    return { policies: await this.policies.drafts(), published };
  }
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
