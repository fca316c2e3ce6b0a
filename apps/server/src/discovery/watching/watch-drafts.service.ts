import { randomUUID } from 'node:crypto';
import type {
  WatchDraftView,
  WatchedFolder,
  WatchGroupView,
  WatchRequest,
  WatchSettings,
} from '@lantern/contracts/discovery';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import { type Acting, type Consent, TwoPeople } from '../../accounts/access/two-people.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { inFull, ReaderCosts } from '../readers/reader-costs.service.js';
import { ReaderEntity } from '../readers/reader.entity.js';
import { WatchChangeEntity, WatchDraftEntity, WatchGroupEntity } from './watch-group.entity.js';
import { Watching } from './watching.service.js';

/** Versions of a group that are shown. */
const MOST_HISTORY = 20;

const WAITS =
  'Your approval is kept for 24 hours. Nothing has changed for these machines yet. A second person must put the same draft in force.';

/** Settings of groups of machines: written as drafts, looked at, and put in force, by two people where that is demanded. */
@Injectable()
export class WatchDrafts {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly twoPeople: TwoPeople,
    private readonly watching: Watching,
    private readonly costs: ReaderCosts,
    private readonly live: LiveEvents,
  ) {}

  /** Every group that has a machine, settings or a draft, by name. */
  async list(): Promise<WatchGroupView[]> {
    const groups = await this.manager.find(WatchGroupEntity);
    const drafts = await this.manager.find(WatchDraftEntity);
    const readers = await this.manager.find(ReaderEntity, {
      where: { withdrawnAt: IsNull() },
      select: { groupName: true, cost: true },
    });
    const names = new Set([...groups, ...drafts, ...readers].map(({ groupName }) => groupName));
    const changes = await this.manager.find(WatchChangeEntity, { order: { version: 'DESC' } });
    const agreed = await this.twoPeople.waiting(
      'machines',
      drafts.map(({ id }) => id),
    );
    const of = <Row extends { readonly groupName: string }>(rows: readonly Row[], group: string): Row[] =>
      rows.filter(({ groupName }) => groupName === group);
    return [...names].sort().map((group): WatchGroupView => {
      const [known] = of(groups, group);
      const [draft] = of(drafts, group);
      const machines = of(readers, group);
      return {
        ...settingsOf(known ?? NOTHING),
        ...{ group, machines: machines.length, ownCosts: machines.filter(({ cost }) => cost).length },
        ...{ version: known?.version ?? 0, changedBy: known?.changedBy ?? '' },
        changedAt: known?.changedAt.toISOString() ?? null,
        draft: draft ? draftView(draft, agreed.get(draft.id)) : null,
        history: of(changes, group)
          .slice(0, MOST_HISTORY)
          .map((change) => ({
            ...settingsOf(change),
            ...{ version: change.version, at: change.at.toISOString() },
            ...{ by: change.actor, writtenBy: change.writtenBy },
          })),
      };
    });
  }

  /** Keeps a draft; a save over somebody else's is refused. */
  async save(groupName: string, request: WatchRequest, by: string): Promise<{ readonly id: string }> {
    const folders = request.folders.map(trimmed);
    demandWhole(folders);
    const person = request.person?.trim().toLowerCase() ?? '';
    const cost = request.cost ? inFull(request.cost) : null;
    const id = randomUUID();
    const row = { groupName, id, folders, person, cost, at: new Date(), actor: by };
    const written = request.draft
      ? await this.manager.update(WatchDraftEntity, { groupName, id: request.draft }, row)
      : await this.manager
          .createQueryBuilder()
          .insert()
          .orIgnore()
          .into(WatchDraftEntity)
          .values(row)
          .execute();
    const isSaved = 'affected' in written ? written.affected === 1 : written.raw?.affectedRows === 1;
    if (!isSaved) throw changedMeanwhile();
    this.live.publish({ kind: 'discovery-changed' });
    return { id };
  }

  async discard(groupName: string, id: string): Promise<void> {
    const { affected } = await this.manager.delete(WatchDraftEntity, { groupName, id });
    if (!affected) throw changedMeanwhile();
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** Puts a draft in force: its machines learn it within seconds. */
  async use(groupName: string, id: string, caller: Acting): Promise<void> {
    if (!(await this.manager.existsBy(WatchDraftEntity, { groupName, id }))) throw changedMeanwhile();
    const first = await this.twoPeople.demand('machines', id, caller, WAITS);
    const by = first ? `${caller.name} and ${first.by}` : caller.name;
    const version = await this.manager.transaction(async (manager) => {
      const draft = await manager.findOne(WatchDraftEntity, {
        where: { groupName, id },
        lock: { mode: 'pessimistic_write' },
      });
      if (!draft) throw changedMeanwhile();
      const known = await manager.findOne(WatchGroupEntity, {
        where: { groupName },
        lock: { mode: 'pessimistic_write' },
      });
      const { folders, person, cost, actor } = draft;
      const next = (known?.version ?? 0) + 1;
      const at = new Date();
      await manager.save(WatchGroupEntity, {
        ...{ groupName, folders, person, cost, version: next, changedAt: at, changedBy: by },
      });
      await manager.insert(WatchChangeEntity, {
        ...{ id: randomUUID(), groupName, version: next, folders, person, cost, at },
        ...{ actor: by, writtenBy: actor },
      });
      await manager.delete(WatchDraftEntity, { groupName });
      return next;
    });
    this.watching.wasSaved(groupName, version);
    this.costs.changed(groupName);
    this.live.publish({ kind: 'discovery-changed' });
  }
}

const NOTHING: WatchSettings = { folders: [], person: '', cost: null };

const settingsOf = ({ folders, person, cost }: WatchSettings): WatchSettings => ({ folders, person, cost });

const draftView = (draft: WatchDraftEntity, agreed: Consent | undefined): WatchDraftView => ({
  ...settingsOf(draft),
  ...{ id: draft.id, at: draft.at.toISOString(), by: draft.actor },
  agreed: agreed ? { by: agreed.by, at: agreed.at.toISOString() } : null,
});

function demandWhole(folders: readonly WatchedFolder[]): void {
  const paths = folders.map(({ path }) => path);
  const twice = paths.find((path, at) => paths.indexOf(path) !== at);
  const wrong = paths.find((path) => !path.startsWith('/'));
  if (twice === undefined && wrong === undefined) return;
  throw new AppError(
    'invalid-request',
    twice !== undefined
      ? `"${twice}" stands here twice. Nothing was saved.`
      : `"${wrong ?? ''}" is not a whole path. Write it from the top of the machine, like /media/stick. Nothing was saved.`,
  );
}

const changedMeanwhile = (): AppError =>
  new AppError(
    'changed-meanwhile',
    'Somebody saved, discarded or put in force the draft of this group in the meantime. Nothing was changed. Open the group again and look at it first.',
  );

const trimmed = ({ path, as, name, trusted }: WatchedFolder): WatchedFolder => ({
  ...{ as, name: name.trim(), trusted },
  path: path.trim().replace(/(?<=.)\/+$/u, ''),
});
