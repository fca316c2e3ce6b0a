import { randomUUID } from 'node:crypto';
import {
  type BrokenSpecimen,
  type JudgedSpecimen,
  MAX_SPECIMENS,
  type SpecimenRequest,
  type SpecimenView,
} from '@lantern/contracts';
import {
  type Expected,
  type Finding,
  isKept,
  judgeSpecimen,
  type OwnPattern,
  READY_PATTERNS,
} from '@lantern/core/detection';
import { type InspectedPart } from '@lantern/core/movement';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { type Config, CONFIG } from '../platform/config.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { sealJson, unsealJson } from '../platform/sealing.js';
import { InspectionService, patternsKey } from '../inspection/inspection.service.js';
import { SpecimenEntity } from './specimen.entity.js';

interface SealedSpecimen {
  readonly text: string;
  readonly expected: readonly Expected[];
}

const placeOf = (id: string): string => `specimen ${id}`;

/** Saved texts that patterns are held to while they are written and before they are published. */
@Injectable()
export class SpecimensService {
  private proven: Promise<ReadonlySet<string>> | undefined;

  constructor(
    @InjectRepository(SpecimenEntity) private readonly specimens: Repository<SpecimenEntity>,
    @Inject(CONFIG) private readonly config: Config,
    private readonly inspection: InspectionService,
    private readonly live: LiveEvents,
  ) {}

  /** All of them, or those that say something about one pattern. */
  async list(pattern?: string): Promise<SpecimenView[]> {
    const found = await this.specimens.find({ order: { savedAt: 'ASC', id: 'ASC' } });
    const views = await Promise.all(found.map((entity) => this.toView(entity)));
    return pattern === undefined
      ? views
      : views.filter(({ expected }) => expected.some((each) => each.pattern === pattern));
  }

  async create(request: SpecimenRequest, caller: Caller): Promise<SpecimenView> {
    if ((await this.specimens.count()) >= MAX_SPECIMENS)
      throw new AppError(
        'too-many',
        `There are ${MAX_SPECIMENS} specimens, which is the maximum. Nothing was saved. Remove one first.`,
      );
    const entity = this.specimens.create({ id: randomUUID(), ...this.fields(request, caller) });
    entity.sealed = await this.sealed(entity.id, request);
    await this.specimens.insert(entity);
    this.changed();
    return this.toView(entity);
  }

  async save(id: string, request: SpecimenRequest, caller: Caller): Promise<SpecimenView> {
    const fields = { ...this.fields(request, caller), sealed: await this.sealed(id, request) };
    const { affected } = await this.specimens.update({ id }, fields);
    if (affected === 0) throw new AppError('not-found', 'This specimen does not exist.');
    this.changed();
    return this.toView(await this.specimens.findOneByOrFail({ id }));
  }

  async remove(id: string): Promise<void> {
    const { affected } = await this.specimens.delete({ id });
    if (affected === 0) throw new AppError('not-found', 'This specimen does not exist.');
    this.changed();
  }

  /** Patterns about which some specimen says something. */
  provenPatterns(): Promise<ReadonlySet<string>> {
    this.proven ??= this.list().then(
      (views) => new Set(views.flatMap(({ expected }) => expected.map(({ pattern }) => String(pattern)))),
    );
    return this.proven;
  }

  /** Specimens of one pattern with the drafts as they stand. */
  async judged(pattern: string, drafts: readonly OwnPattern[]): Promise<JudgedSpecimen[]> {
    const specimens = await this.list(pattern);
    if (specimens.length === 0) return [];
    const inspected = await this.inspection.inspectWith(patternsKey(drafts), drafts, {
      texts: specimens.map(({ id, text }) => ({ role: 'body' as const, path: [id], text })),
      files: [],
      keepTexts: 0,
    });
    return specimens.flatMap(({ id, expected }, index) => {
      const wanted = expected.find((each) => each.pattern === pattern);
      return wanted ? [{ id, ...judgeSpecimen(findingsOf(inspected.parts[index]?.part), wanted) }] : [];
    });
  }

  /** How many specimens of each pattern do not give what they should with some patterns. */
  async failing(patterns: readonly OwnPattern[]): Promise<Map<string, number>> {
    const specimens = await this.list();
    const failing = new Map<string, number>();
    if (specimens.length === 0) return failing;
    const inspected = await this.inspection.inspectWith(patternsKey(patterns), patterns, {
      texts: specimens.map(({ id, text }) => ({ role: 'body' as const, path: [id], text })),
      files: [],
      keepTexts: 0,
    });
    const known = new Set<string>([...READY_PATTERNS, ...patterns].map(({ id }) => id));
    for (const [index, { expected }] of specimens.entries())
      for (const wanted of expected)
        if (
          known.has(wanted.pattern) &&
          !isKept(judgeSpecimen(findingsOf(inspected.parts[index]?.part), wanted))
        )
          failing.set(wanted.pattern, (failing.get(wanted.pattern) ?? 0) + 1);
    return failing;
  }

  private changed(): void {
    this.proven = undefined;
    this.live.publish({ kind: 'drafts-changed' });
  }

  /**
   * Specimens that the drafts break: they give what they should with the published patterns and no longer with these.
   * Those of a pattern that is not published yet have only the drafts to be held to.
   */
  async broken(drafts: readonly OwnPattern[], published: readonly OwnPattern[]): Promise<BrokenSpecimen[]> {
    const specimens = await this.list();
    if (specimens.length === 0) return [];
    const item = {
      texts: specimens.map(({ id, text }) => ({ role: 'body' as const, path: [id], text })),
      files: [],
      keepTexts: 0,
    };
    const [inspected, before] = await Promise.all([
      this.inspection.inspectWith(patternsKey(drafts), drafts, item),
      this.inspection.inspectWith(patternsKey(published), published, item),
    ]);
    const names = new Map<string, string>([...READY_PATTERNS, ...drafts].map(({ id, name }) => [id, name]));
    const ready = new Set<string>(READY_PATTERNS.map(({ id }) => id));
    return specimens.flatMap((specimen, index) => {
      const findings = findingsOf(inspected.parts[index]?.part);
      const findingsBefore = findingsOf(before.parts[index]?.part);
      return specimen.expected.flatMap((expected): BrokenSpecimen[] => {
        const outcome = judgeSpecimen(findings, expected);
        // A pattern that is gone takes its specimens with it.
        if (isKept(outcome) || !names.has(expected.pattern)) return [];
        const known = ready.has(expected.pattern) || published.some((own) => own.id === expected.pattern);
        if (known && !isKept(judgeSpecimen(findingsBefore, expected))) return [];
        const { id, name } = specimen;
        const { pattern } = expected;
        return [
          {
            id,
            name,
            pattern,
            patternName: names.get(pattern) ?? pattern,
            missed: outcome.missed.length,
            extra: outcome.extra.length,
          },
        ];
      });
    });
  }

  private fields(request: SpecimenRequest, caller: Caller) {
    return { name: request.name.trim(), savedAt: new Date(), savedBy: caller.name };
  }

  private sealed(id: string, { text, expected }: SpecimenRequest): Promise<Buffer> {
    return sealJson(this.config.keys.installation, placeOf(id), { text, expected } satisfies SealedSpecimen);
  }

  private async toView({ id, name, sealed, savedAt, savedBy }: SpecimenEntity): Promise<SpecimenView> {
    const opened = await unsealJson(this.config.keys.installation, placeOf(id), sealed);
    const { text, expected } = opened as SealedSpecimen;
    return { id, name, text, expected, savedAt: savedAt.toISOString(), savedBy };
  }
}

function findingsOf(part: InspectedPart | undefined): readonly Finding[] {
  return part?.status === 'read' ? part.findings : [];
}
