import { type PatternDetail, SaveExpressionRequest, SaveWordListRequest } from '@lantern/contracts';
import { type ExpressionPattern, type WordListPattern, writeWordLines } from '@lantern/core/detection';
import { Injectable } from '@nestjs/common';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { validationPipe } from '../platform/errors/validation.js';
import { ExpressionsService } from './expressions.service.js';
import { toOwnPattern } from './pattern.mapper.js';
import { PatternsService } from './patterns.service.js';

type Changeable = WordListPattern | ExpressionPattern;

/** Saves an own pattern that something computed a change for, within the limits of one that is edited by hand. */
@Injectable()
export class ChangedPattern {
  private readonly limits = validationPipe();

  constructor(
    private readonly patterns: PatternsService,
    private readonly expressions: ExpressionsService,
  ) {}

  /**
   * Throws `not-found` for no word list or expression, and where `change` gives null; `invalid-request` where the changed
   * pattern is beyond a limit; `changed-meanwhile` where somebody saves at the same time.
   */
  async save(
    id: string,
    change: (pattern: Changeable) => Changeable | null,
    caller: Caller,
  ): Promise<PatternDetail> {
    const entity = await this.patterns.getOwn(id);
    const changed = change(toOwnPattern(entity));
    if (!changed) throw new AppError('not-found', 'This pattern is of another kind now.');
    const { name, about } = changed;
    const { version } = entity;
    if (changed.origin === 'own') {
      const { words, threshold = null, inside = false } = changed;
      const lines = { name, about, words: writeWordLines(words), threshold, inside, version };
      const request = await this.within(lines, SaveWordListRequest);
      return (await this.patterns.save(id, request, caller)).pattern;
    }
    const { expression, caseMatters, check, wordDistance, exclusions, weights } = changed;
    const { namingWords, supportingWords, counterWords } = changed;
    const fields = {
      ...{ name, about, expression, caseMatters, check, wordDistance, exclusions, weights },
      ...{ namingWords, supportingWords, counterWords, version },
    };
    return this.expressions.save(id, await this.within(fields, SaveExpressionRequest), caller);
  }

  private async within<Request extends object>(
    fields: object,
    metatype: new () => Request,
  ): Promise<Request> {
    return (await this.limits.transform(fields, { type: 'body', metatype })) as Request;
  }
}
