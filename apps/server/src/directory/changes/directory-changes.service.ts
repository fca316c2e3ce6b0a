import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import {
  type ApplyLookRequest,
  type DirectoryChangeView,
  type DirectoryLook,
  type DirectoryLookRequest,
  type DirectoryUpload,
  FEW_LEAVING,
  type PersonSource,
  USUAL_LEAVING_PERCENT,
} from '@lantern/contracts/directory';
import { groupsOf, type GroupRule, type PersonRecord } from '@lantern/core/directory';
import { type Outcome, ProcessPool } from '@lantern/processes';
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
import type { ChangeAnswer, ChangeOrder, UploadAnswer } from './change-tasks.js';
import { DirectoryWriter, recordOf } from './directory-writer.js';

/** An uploaded file and what was compared are kept so long. */
const KEPT_MS = 60 * 60_000;
/** Comparisons of a large directory are large; the oldest goes. */
const MOST_LOOKS = 3;
/** Lines of each list that are shown. */
const SHOWN = 200;
const SHOWN_CHANGES = 100;
const HEAP_MEGABYTES = 1_024;
/** 200,000 people take some seconds; a slow directory server takes longer. */
const WITHIN_MS = 180_000;

interface KeptLook {
  readonly version: number;
  readonly answer: Extract<ChangeAnswer, { status: 'planned' }>;
  readonly view: DirectoryLook;
  readonly share: number;
}

/** Compares what files and servers tell with the directory, and takes it over once somebody has looked at it. */
@Injectable()
export class DirectoryChanges implements OnApplicationShutdown {
  private readonly uploads = new Map<string, string>();
  private readonly looks = new Map<string, KeptLook>();
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
    const outcome = await this.pool.run<UploadAnswer>('look', sealedUpload(path));
    const answer = answerOf(outcome);
    if (answer.status === 'refused') {
      await rm(path, { force: true });
      throw new AppError('file-refused', `Nothing was read from the file. ${answer.sentence}`);
    }
    const upload = randomUUID();
    this.uploads.set(upload, path);
    setTimeout(() => {
      this.uploads.delete(upload);
      void rm(path, { force: true });
    }, KEPT_MS).unref();
    return { upload, ...answer.upload };
  }

  /** Compares an uploaded file with the directory. Nothing is changed. */
  async lookAtFile({ upload = '', meanings, whole }: DirectoryLookRequest): Promise<DirectoryLook> {
    const path = this.uploads.get(upload);
    if (path === undefined)
      throw new AppError('not-found', 'The uploaded file is no longer available. Choose it again.');
    const from = { kind: 'file' as const, upload: sealedUpload(path), ...(meanings ? { meanings } : {}) };
    return this.compare('file', from, whole);
  }

  /** Compares a source with the directory, with everything that means people by it. */
  async compare(source: PersonSource, from: ChangeOrder['from'], whole: boolean): Promise<DirectoryLook> {
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
      elsewhere: people
        .filter((person) => person.source !== source && person.source !== 'hand')
        .map(({ address }) => address.toLowerCase()),
      domains: (await this.people.getOrganisation()).domains,
      audiences: references.map(({ of: name, draft, audience }) => ({
        of: draft ? `${name} (draft)` : name,
        audience,
      })),
    };
    const answer = answerOf(await this.pool.run<ChangeAnswer>('compare', order));
    if (answer.status === 'refused')
      throw new AppError(
        source === 'server' ? 'server-unreachable' : 'file-refused',
        `Nothing was compared. ${answer.sentence}`,
      );
    const id = randomUUID();
    const before = people.map(recordOf);
    const used = references.flatMap(({ audience }) => [...audience.with, ...audience.without]);
    const view = viewOf({ id, source, answer, vanishing: vanishing({ before, answer, groups, used }) });
    this.keep(id, { version, answer, view, share: answer.plan.leavingShare });
    return view;
  }

  look(id: string): DirectoryLook {
    return this.kept(id).view;
  }

  /** Takes over what was looked at, or nothing of it. */
  async apply(id: string, { leavingPercent }: ApplyLookRequest, actor: string): Promise<DirectoryChangeView> {
    const { version, answer, view, share } = this.kept(id);
    if (view.leavingPercent !== null && Math.round(share * 100) > leavingPercent)
      throw new AppError(
        'too-many-leave',
        `${answer.plan.left.length} people, ${Math.round(share * 100)} percent, would leave. Nothing was changed. Confirm the share if it is meant.`,
      );
    const change = await this.writer.write(answer.plan, {
      ...{ source: view.source, actor, version, refused: answer.plan.refused.length },
    });
    this.looks.delete(id);
    return changeView(change);
  }

  drop(id: string): void {
    this.looks.delete(id);
  }

  async history(): Promise<DirectoryChangeView[]> {
    const changes = await this.manager.find(DirectoryChangeEntity, {
      order: { at: 'DESC' },
      take: SHOWN_CHANGES,
    });
    return changes.map(changeView);
  }

  private kept(id: string): KeptLook {
    const look = this.looks.get(id);
    if (!look) throw new AppError('not-found', 'This comparison is no longer available. Compare once more.');
    return look;
  }

  private keep(id: string, look: KeptLook): void {
    this.looks.set(id, look);
    setTimeout(() => this.looks.delete(id), KEPT_MS).unref();
    const [oldest] = this.looks.keys();
    if (this.looks.size > MOST_LOOKS && oldest !== undefined) this.looks.delete(oldest);
  }
}

function answerOf<Answer extends { readonly status: string }>(
  outcome: Outcome<Answer>,
): Answer | { readonly status: 'refused'; readonly sentence: string } {
  if (outcome.status === 'done') return outcome.value;
  const sentence =
    outcome.reason === 'too-much-memory'
      ? 'It takes more memory than there is for it.'
      : 'It could not be read in time.';
  return { status: 'refused', sentence };
}

function viewOf({
  id,
  source,
  answer: { plan, faults, effects },
  vanishing: gone,
}: {
  readonly id: string;
  readonly source: PersonSource;
  readonly answer: Extract<ChangeAnswer, { status: 'planned' }>;
  readonly vanishing: DirectoryLook['vanishing'];
}): DirectoryLook {
  const { added, changed, left, unchanged, refused, remarks } = plan;
  const stops = left.length > FEW_LEAVING && Math.round(plan.leavingShare * 100) > USUAL_LEAVING_PERCENT;
  return {
    ...{ id, source, effects, vanishing: gone },
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

/** Names that something means people by, that somebody carries now and nobody would afterwards. */
function vanishing({
  before,
  answer: { plan },
  groups,
  used,
}: {
  readonly before: readonly PersonRecord[];
  readonly answer: Extract<ChangeAnswer, { status: 'planned' }>;
  readonly groups: readonly GroupRule[];
  readonly used: readonly { readonly kind: string }[];
}): DirectoryLook['vanishing'] {
  const gone = new Set(
    [...plan.left, ...plan.changed.map((step) => step.before)].map(({ address }) => address),
  );
  const after = [
    ...before.filter(({ address }) => !gone.has(address)),
    ...plan.changed.map((step) => step.after),
    ...plan.added,
  ];
  const names = (people: readonly PersonRecord[]) => ({
    group: new Set(people.flatMap((person) => groupsOf(person, groups)).map(small)),
    department: new Set(people.map(({ department }) => small(department))),
    office: new Set(people.map(({ office }) => small(office))),
  });
  const had = names(before);
  const has = names(after);
  const found = used.flatMap((term) => {
    const { kind } = term;
    if (kind !== 'group' && kind !== 'department' && kind !== 'office') return [];
    const name = (term as unknown as Readonly<Record<string, string>>)[kind] ?? '';
    return had[kind].has(small(name)) && !has[kind].has(small(name)) ? [{ kind, name } as const] : [];
  });
  return [...new Map(found.map((each) => [`${each.kind} ${small(each.name)}`, each])).values()];
}

const small = (text: string): string => text.toLowerCase();

function changeView({ id, at, actor, source, added, changed, left, refused }: DirectoryChangeEntity) {
  return { id, at: at.toISOString(), actor, source, added, changed, left, refused };
}
