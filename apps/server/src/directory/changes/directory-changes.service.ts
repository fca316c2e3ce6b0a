import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import {
  type ApplyComparisonRequest,
  type DirectoryChangeView,
  type DirectoryComparison,
  type ComparisonRequest,
  type DirectoryUpload,
  FEW_LEAVING,
  type PersonSource,
  USUAL_LEAVING_PERCENT,
} from '@lantern/contracts/directory';
import type { PersonRecord } from '@lantern/core/directory';
import { type Outcome, PoolIsFull, ProcessPool } from '@lantern/processes';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { sealedUpload } from '../../platform/http/sealed-uploads.js';
import { compiled } from '../../platform/processes/compiled.js';
import { DirectoryChangeEntity, PeopleGroupEntity } from '../directory.entity.js';
import { DirectoryReferences } from '../directory-references.js';
import { PeopleService } from '../people.service.js';
import { PersonEntity } from '../person.entity.js';
import type {
  ChangeAnswer,
  ChangeOrder,
  MachinesAnswer,
  PlacesAnswer,
  UploadAnswer,
} from './change-tasks.js';
import { KeptComparisons } from './kept-comparisons.js';
import { DirectoryWriter, recordOf } from './directory-writer.js';

/** An uploaded file is kept so long. */
const KEPT_MS = 60 * 60_000;
/** Lines of each list that are shown. */
const SHOWN = 200;
const SHOWN_CHANGES = 100;
const HEAP_MEGABYTES = 1_024;
/** 200,000 people take some seconds; a slow directory server takes longer. */
const WITHIN_MS = 180_000;

type Planned = Extract<ChangeAnswer, { status: 'planned' }>;

interface KeptComparison {
  readonly version: number;
  readonly answer: Planned;
  readonly view: DirectoryComparison;
  readonly share: number;
}

/** Compares what files and servers tell with the directory, and takes it over once somebody has looked at it. */
@Injectable()
export class DirectoryChanges implements OnApplicationShutdown {
  private readonly uploads = new Map<string, string>();
  private readonly comparisons = new KeptComparisons<KeptComparison>();
  private readonly pool = new ProcessPool({
    module: compiled('./change-tasks.js', import.meta.url),
    processes: 1,
    heapMegabytes: HEAP_MEGABYTES,
    residentMegabytes: HEAP_MEGABYTES + 800,
    timeoutMs: WITHIN_MS,
    maxWaiting: 4,
  });

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly writer: DirectoryWriter,
    private readonly references: DirectoryReferences,
  ) {}

  async onApplicationShutdown(): Promise<void> {
    await this.pool.close();
    for (const path of this.uploads.values()) await rm(path, { force: true });
  }

  /** Says what an uploaded file holds; it is kept for an hour. */
  async upload(path: string): Promise<DirectoryUpload> {
    const answer = await this.run<UploadAnswer>('inspect', sealedUpload(path)).catch(
      async (error: unknown) => {
        await rm(path, { force: true });
        throw error;
      },
    );
    if (answer.status === 'refused') {
      await rm(path, { force: true });
      throw new AppError('file-refused', `The file was not imported. ${answer.sentence}`);
    }
    const upload = randomUUID();
    this.uploads.set(upload, path);
    setTimeout(() => {
      this.uploads.delete(upload);
      void rm(path, { force: true });
    }, KEPT_MS).unref();
    return { upload, ...answer.upload };
  }

  /** Reads an inventory of machines in a process of its own. */
  async readMachines(path: string): Promise<Extract<MachinesAnswer, { status: 'read' }>> {
    const answer = await this.run<MachinesAnswer>('machines', sealedUpload(path));
    if (answer.status === 'refused')
      throw new AppError('file-refused', `The file was not imported. ${answer.sentence}`);
    return answer;
  }

  /** Reads a list of places in a process of its own. */
  async readPlaces(path: string): Promise<Extract<PlacesAnswer, { status: 'read' }>> {
    const answer = await this.run<PlacesAnswer>('places', sealedUpload(path));
    if (answer.status === 'refused')
      throw new AppError('file-refused', `The file was not imported. ${answer.sentence}`);
    return answer;
  }

  /** Compares an uploaded file with the directory. Nothing is changed. */
  async compareFile({ upload = '', meanings, whole }: ComparisonRequest): Promise<DirectoryComparison> {
    const path = this.uploads.get(upload);
    if (path === undefined)
      throw new AppError('not-found', 'The uploaded file has expired. Choose it again.');
    const from = { kind: 'file' as const, upload: sealedUpload(path), ...(meanings ? { meanings } : {}) };
    return this.compare('file', from, whole);
  }

  /** Compares a source with the directory, with everything that means people by it. */
  async compare(
    source: PersonSource,
    from: ChangeOrder['from'],
    whole: boolean,
  ): Promise<DirectoryComparison> {
    const version = await this.writer.version();
    const people = await this.manager.find(PersonEntity);
    const of = (...sources: readonly PersonSource[]): PersonRecord[] =>
      people.filter((person) => sources.includes(person.source)).map(recordOf);
    const groups = await this.manager.find(PeopleGroupEntity);
    const references = await this.references.all();
    const order: ChangeOrder = {
      ...{ from, whole, groups },
      own: of(source),
      byHand: source === 'hand' ? [] : of('hand'),
      others: people.filter((person) => person.source !== source && person.source !== 'hand').map(recordOf),
      domains: (await this.people.getOrganisation()).domains,
      audiences: references.map(({ of: name, draft, audience }) => ({
        of: draft ? `${name} (draft)` : name,
        audience,
      })),
    };
    const answer = await this.run<ChangeAnswer>('compare', order);
    if (answer.status === 'refused')
      throw new AppError(
        source === 'server' ? 'server-unreachable' : 'file-refused',
        `Nothing was compared. ${answer.sentence}`,
      );
    return this.comparisons.keep((id) => ({
      ...{ version, answer, share: answer.plan.leavingShare },
      view: viewOf(id, source, answer),
    })).view;
  }

  comparison(id: string): DirectoryComparison {
    return this.comparisons.get(id).view;
  }

  /** Takes over what was looked at, or nothing of it. */
  async apply(
    id: string,
    { leavingPercent }: ApplyComparisonRequest,
    actor: string,
  ): Promise<DirectoryChangeView> {
    const { version, answer, view, share } = this.comparisons.get(id);
    if (view.leavingPercent !== null && Math.round(share * 100) > leavingPercent)
      throw new AppError(
        'too-many-leave',
        `${answer.plan.left.length} people, ${Math.round(share * 100)} percent, would be removed. Nothing was changed. Confirm that they have left.`,
      );
    const change = await this.writer.write(answer.plan, {
      ...{ source: view.source, actor, version, refused: answer.plan.refused.length },
    });
    this.comparisons.drop(id);
    return changeView(change);
  }

  drop(id: string): void {
    this.comparisons.drop(id);
  }

  async history(): Promise<DirectoryChangeView[]> {
    const changes = await this.manager.find(DirectoryChangeEntity, {
      order: { at: 'DESC' },
      take: SHOWN_CHANGES,
    });
    return changes.map(changeView);
  }

  private async run<Answer extends { readonly status: string }>(task: string, input: unknown) {
    try {
      return answerOf(await this.pool.run<Answer>(task, input));
    } catch (error) {
      if (!(error instanceof PoolIsFull)) throw error;
      throw new AppError('busy', 'Other imports are running. Nothing was changed. Try again in a minute.');
    }
  }
}

function answerOf<Answer extends { readonly status: string }>(
  outcome: Outcome<Answer>,
): Answer | { readonly status: 'refused'; readonly sentence: string } {
  if (outcome.status === 'done') return outcome.value;
  const sentence =
    outcome.reason === 'too-much-memory' ? 'It is too large to read.' : 'It could not be read in time.';
  return { status: 'refused', sentence };
}

function viewOf(
  id: string,
  source: PersonSource,
  { plan, faults, effects, vanishing, isIncomplete }: Planned,
): DirectoryComparison {
  const { added, changed, left, unchanged, refused, remarks } = plan;
  const stops = left.length > FEW_LEAVING && Math.round(plan.leavingShare * 100) > USUAL_LEAVING_PERCENT;
  return {
    ...{ id, source, effects, vanishing, isIncomplete },
    counts: {
      ...{ added: added.length, changed: changed.length, left: left.length, unchanged },
      ...{ refused: refused.length, remarks: remarks.length },
    },
    added: added.slice(0, SHOWN),
    changed: changed.slice(0, SHOWN),
    left: left.slice(0, SHOWN),
    refused: refused.slice(0, SHOWN),
    remarks: remarks.slice(0, SHOWN),
    faults: faults.slice(0, SHOWN),
    leavingPercent: stops ? Math.round(plan.leavingShare * 100) : null,
  };
}

function changeView({ id, at, actor, source, added, changed, left, refused }: DirectoryChangeEntity) {
  return { id, at: at.toISOString(), actor, source, added, changed, left, refused };
}
