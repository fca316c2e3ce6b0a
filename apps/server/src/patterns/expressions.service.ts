import { randomUUID } from 'node:crypto';
import type { ExpressionRequest, PatternDetail, SaveExpressionRequest } from '@lantern/contracts';
import { type ExpressionProblem, faultOf } from '@lantern/core/detection';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { DataSource, Repository } from 'typeorm';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { demandFreeName } from './free-name.js';
import { type ExpressionFields, OwnPatternEntity } from './own-pattern.entity.js';
import { PatternsService } from './patterns.service.js';

const REASONS: Readonly<Record<ExpressionProblem, string>> = {
  empty: 'it is empty',
  'not-readable': 'it cannot be read',
  'refers-back': 'it refers back to a group, which is not supported',
  'looks-around': 'it looks ahead or behind by more than one character, which is not supported',
  'too-large': 'it is too large, or its repetitions multiply too far',
  'finds-nothing': 'it also matches empty text',
  'finds-everything': 'it matches most ordinary text',
};

/** Own expressions as they are written. */
@Injectable()
export class ExpressionsService {
  constructor(
    @InjectRepository(OwnPatternEntity) private readonly own: Repository<OwnPatternEntity>,
    private readonly patterns: PatternsService,
    private readonly live: LiveEvents,
    private readonly database: DataSource,
  ) {}

  async create(request: ExpressionRequest, caller: Caller): Promise<PatternDetail> {
    demandRunnable(request);
    await demandFreeName(this.database, request.name, '');
    const id = randomUUID();
    await this.own.insert(
      this.own.create({
        id,
        words: [],
        threshold: null,
        inside: false,
        version: 1,
        ...fieldsOf(request, caller),
      }),
    );
    this.live.publish({ kind: 'drafts-changed' });
    return this.patterns.get(id);
  }

  async save(id: string, request: SaveExpressionRequest, caller: Caller): Promise<PatternDetail> {
    const before = await this.patterns.getOwn(id);
    if (!before.expression) throw new AppError('not-found', 'This expression does not exist.');
    demandRunnable(request);
    await demandFreeName(this.database, request.name, id);
    const { affected } = await this.own.update(
      { id, version: request.version },
      { ...fieldsOf(request, caller), version: request.version + 1 },
    );
    if (affected === 0) {
      throw new AppError(
        'changed-meanwhile',
        `${before.updatedBy} saved this expression in the meantime. Yours was not saved and is still here. Check theirs before you save again.`,
        { details: { by: before.updatedBy, version: before.version } },
      );
    }
    this.live.publish({ kind: 'drafts-changed' });
    return this.patterns.get(id);
  }
}

function demandRunnable({ expression, caseMatters }: ExpressionRequest): void {
  const fault = faultOf(expression, caseMatters);
  if (!fault) return;
  throw new AppError(
    'expression-refused',
    `The expression was refused: ${REASONS[fault.problem]}. Nothing was saved.`,
    { details: { problem: fault.problem, at: fault.at } },
  );
}

function fieldsOf(request: ExpressionRequest, caller: Caller) {
  const { expression, caseMatters, check, wordDistance, exclusions, weights } = request;
  const words = (list: readonly string[]): string[] => [
    ...new Set(list.map((word) => word.trim()).filter((word) => word !== '')),
  ];
  const fields: ExpressionFields = {
    expression,
    caseMatters,
    check,
    namingWords: words(request.namingWords),
    supportingWords: words(request.supportingWords),
    counterWords: words(request.counterWords),
    wordDistance,
    exclusions: {
      values: words(exclusions.values),
      words: words(exclusions.words),
      ranges: exclusions.ranges.map(({ from, to }) => ({ from, to })),
    },
    weights: { ...weights },
  };
  return {
    name: request.name.trim(),
    about: request.about,
    expression: fields,
    updatedAt: new Date(),
    updatedBy: caller.name,
  };
}
