import type { JournalFigures, JournalFiguresRequest, JournalShift } from '@lantern/contracts';
import { type OwnPattern, type Pattern, patternSet, faultOf } from '@lantern/core/detection';
import { type Outcome } from '@lantern/core/incidents';
import { patternFromFile } from '@lantern/set-files';
import { ProcessPool } from '@lantern/processes';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { IncidentEntity, MovementEntity } from '../incidents/incident.entity.js';
import { JournalEntity } from '../journal/journal.entity.js';
import { CONFIG, type Config } from '../platform/config.js';
import { movementKeys } from '../platform/keys/movement-keys.js';
import { AppError } from '../platform/errors/app-error.js';
import { PublishedRevision } from '../published/published-revision.js';
import { compiled } from '../platform/processes/compiled.js';
import type { CountedRow, PatternData, TextsRow } from './pattern-tasks.js';

/** Newest movements that are looked at: some seconds on a slow machine, while somebody types. */
const MOST_MOVEMENTS = 2_000;
const ROWS_A_CALL = 100;
/** Movements listed whose count changes. */
const MOST_SHIFTS = 50;
const TIME_LIMIT_MS = 20_000;
/** Id of a pattern that has none yet. */
const UNNAMED = 'a-new-pattern';

/** Holds a pattern that is being written to the newest kept movements, beside what is published of it. */
@Injectable()
export class JournalFiguresService {
  private running = 0;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly published: PublishedRevision,
  ) {}

  async figures(request: JournalFiguresRequest): Promise<JournalFigures> {
    // Answers to what was typed before are of no use to anybody.
    if (this.running >= 2)
      throw new AppError('busy', 'Other patterns are being tested on the journal. Try again in a moment.');
    this.running += 1;
    try {
      return await this.count(this.patterns(request));
    } finally {
      this.running -= 1;
    }
  }

  private patterns({ pattern, written }: JournalFiguresRequest): Pick<PatternData, 'before' | 'written'> {
    const id = pattern || UNNAMED;
    const own = patternFromFile(written, id);
    if (!own)
      throw new AppError(
        'invalid-request',
        'This pattern’s knowledge never leaves the server, so it cannot be tried here.',
        {
          fields: [{ field: 'written', message: 'must be words, an expression or weights' }],
        },
      );
    const fault = own.origin === 'expression' ? faultOf(own.expression, own.caseMatters) : null;
    if (fault) throw new AppError('expression-refused', `The expression is refused: ${fault.problem}.`);
    const draft = single([own], id);
    if (!draft) throw new AppError('not-found', 'There is no such pattern.');
    return { before: single(this.published.current?.document.patterns ?? [], id), written: draft };
  }

  private async count(patterns: Pick<PatternData, 'before' | 'written'>): Promise<JournalFigures> {
    const began = Date.now();
    const newest = await this.manager.find(JournalEntity, {
      select: { movementId: true, at: true, hasContent: true },
      order: { at: 'DESC' },
      take: MOST_MOVEMENTS,
    });
    const withContent = newest.filter(({ hasContent }) => hasContent);
    const counted = await this.inWorkers(
      patterns,
      withContent.map(({ movementId }) => movementId),
    );
    const found = counted.filter(({ before, now }) => before + now > 0);
    const outcomes = await this.outcomes(found.map(({ id }) => id));
    const times = new Map(newest.map(({ movementId, at }) => [movementId, at]));
    const shifts = found.filter(({ before, now }) => before !== now).slice(0, MOST_SHIFTS);
    return {
      looked: withContent.length,
      withoutContent: newest.length - withContent.length,
      since: newest.at(-1)?.at.toISOString() ?? null,
      before: found.filter(({ before }) => before > 0).length,
      now: found.filter(({ now }) => now > 0).length,
      newly: found.filter(({ before, now }) => before === 0 && now > 0).length,
      gone: found.filter(({ before, now }) => before > 0 && now === 0).length,
      ...known(found, outcomes),
      shifts: await this.named(shifts, times, outcomes),
      seconds: (Date.now() - began) / 1_000,
    };
  }

  private async inWorkers(
    patterns: Pick<PatternData, 'before' | 'written'>,
    ids: readonly string[],
  ): Promise<CountedRow[]> {
    const pool = new ProcessPool({
      module: compiled('./pattern-tasks.js', import.meta.url),
      data: patterns,
      processes: 1,
      ...{ heapMegabytes: 512, residentMegabytes: 900, timeoutMs: TIME_LIMIT_MS },
    });
    const signal = AbortSignal.timeout(TIME_LIMIT_MS);
    try {
      const counted: CountedRow[] = [];
      for (let at = 0; at < ids.length; at += ROWS_A_CALL) {
        const page = ids.slice(at, at + ROWS_A_CALL);
        const keyOf = await movementKeys(this.manager, this.config.keys, page);
        const rows = await this.manager.find(JournalEntity, {
          where: { movementId: In(page) },
          select: { movementId: true, sealedTexts: true },
        });
        const texts = rows.flatMap(({ movementId, sealedTexts }): TextsRow[] =>
          sealedTexts ? [{ id: movementId, key: keyOf(movementId), sealedTexts }] : [],
        );
        const outcome = await pool.run<CountedRow[]>('count', texts, { signal });
        if (outcome.status !== 'done')
          throw new AppError(
            'busy',
            'Searching the journal took too long and was stopped. Your text is still here. Make the pattern smaller.',
          );
        counted.push(...outcome.value);
      }
      return counted;
    } finally {
      pool.destroy();
    }
  }

  private async outcomes(
    ids: readonly string[],
  ): Promise<Map<string, { number: number; outcome: Outcome | null }>> {
    if (ids.length === 0) return new Map();
    const rows = await this.manager.find(IncidentEntity, {
      where: { movementId: In([...ids]), silent: false },
      select: { number: true, movementId: true, outcome: true },
    });
    return new Map(rows.map(({ movementId, number, outcome }) => [movementId, { number, outcome }]));
  }

  private async named(
    shifts: readonly CountedRow[],
    times: ReadonlyMap<string, Date>,
    outcomes: ReadonlyMap<string, { number: number }>,
  ): Promise<JournalShift[]> {
    if (shifts.length === 0) return [];
    const rows = await this.manager.find(MovementEntity, {
      where: { id: In(shifts.map(({ id }) => id)) },
      select: { id: true, personAddress: true },
    });
    const people = new Map(rows.map(({ id, personAddress }) => [id, personAddress]));
    return shifts.map(({ id, before, now }) => ({
      at: (times.get(id) ?? new Date(0)).toISOString(),
      person: people.get(id) ?? '',
      incident: outcomes.get(id)?.number ?? null,
      before,
      now,
    }));
  }
}

/** The one pattern of an id, ready ones with their weights; null where there is none. */
function single(own: readonly OwnPattern[], id: string): Pattern | null {
  return patternSet(own).find((pattern) => pattern.id === id) ?? null;
}

function known(
  found: readonly CountedRow[],
  outcomes: ReadonlyMap<string, { outcome: Outcome | null }>,
): Pick<JournalFigures, 'right' | 'wrong'> {
  const side = (is: (outcome: Outcome) => boolean): JournalFigures['right'] => {
    const mine = found.filter(({ id }) => {
      const outcome = outcomes.get(id)?.outcome ?? null;
      return outcome !== null && is(outcome);
    });
    return {
      total: mine.length,
      before: mine.filter(({ before }) => before > 0).length,
      now: mine.filter(({ now }) => now > 0).length,
    };
  };
  return {
    right: side((outcome) => outcome !== 'false-positive'),
    wrong: side((outcome) => outcome === 'false-positive'),
  };
}
