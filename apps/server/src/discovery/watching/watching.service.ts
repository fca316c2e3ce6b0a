import { randomUUID } from 'node:crypto';
import type { WatchedFolder, WatchGroupView, WatchOrders, WatchRequest } from '@lantern/contracts/discovery';
import { NO_POLICIES } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { MachineEntity } from '../../directory/machines/machine.entity.js';
import { factsOf, PeopleService } from '../../directory/people.service.js';
import { ChannelSettings } from '../../movements/channels/channel-settings.service.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { setOf } from '../../published/revision.entity.js';
import { Parts } from '../parts/parts.service.js';
import { ReaderEntity } from '../readers/reader.entity.js';
import { WatchChangeEntity, WatchGroupEntity } from './watch-group.entity.js';

/** Versions of a group that are shown. */
const MOST_HISTORY = 20;

/** What machines watch, told to whole groups of them. */
@Injectable()
export class Watching {
  /** Versions that were saved since the server started, by group: whoever waits for work looks here often. */
  private readonly saved = new Map<string, number>();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly published: PublishedRevision,
    private readonly settings: ChannelSettings,
    private readonly parts: Parts,
    private readonly live: LiveEvents,
  ) {}

  /** Every group that has a machine or something to watch, by name. */
  async list(): Promise<WatchGroupView[]> {
    const groups = await this.manager.find(WatchGroupEntity);
    const readers = await this.manager.find(ReaderEntity, { select: { groupName: true } });
    const names = new Set([...groups, ...readers].map(({ groupName }) => groupName));
    const changes = await this.manager.find(WatchChangeEntity, { order: { version: 'DESC' } });
    return [...names].sort().map((group): WatchGroupView => {
      const known = groups.find(({ groupName }) => groupName === group);
      return {
        ...{
          group,
          folders: known?.folders ?? [],
          person: known?.person ?? '',
          version: known?.version ?? 0,
        },
        ...{ changedAt: known?.changedAt.toISOString() ?? null, changedBy: known?.changedBy ?? '' },
        history: changes
          .filter(({ groupName }) => groupName === group)
          .slice(0, MOST_HISTORY)
          .map(({ version, at, actor, folders, person }) => ({
            ...{ version, at: at.toISOString(), by: actor, folders, person },
          })),
      };
    });
  }

  /** Tells a group what to watch; a save over somebody else's is refused. Its machines learn it within seconds. */
  async save(groupName: string, request: WatchRequest, by: string): Promise<void> {
    const folders = request.folders.map(trimmed);
    const paths = folders.map(({ path }) => path);
    const twice = paths.find((path, at) => paths.indexOf(path) !== at);
    const wrong = paths.find((path) => !path.startsWith('/'));
    if (twice !== undefined || wrong !== undefined)
      throw new AppError(
        'invalid-request',
        twice !== undefined
          ? `"${twice}" stands here twice. Nothing was saved.`
          : `"${wrong ?? ''}" is not a whole path. Write it from the top of the machine, like /media/stick. Nothing was saved.`,
      );
    const person = request.person?.trim().toLowerCase() ?? '';
    const at = new Date();
    const row = { groupName, folders, person, version: request.version + 1, changedAt: at, changedBy: by };
    await this.manager.transaction(async (manager) => {
      const saved =
        request.version === 0
          ? await manager
              .createQueryBuilder()
              .insert()
              .orIgnore()
              .into(WatchGroupEntity)
              .values(row)
              .execute()
          : await manager.update(WatchGroupEntity, { groupName, version: request.version }, row);
      const isSaved = 'affected' in saved ? saved.affected === 1 : saved.raw?.affectedRows === 1;
      if (!isSaved)
        throw new AppError(
          'changed-meanwhile',
          'Somebody saved this group in the meantime, so your version was not saved. Look at theirs first.',
        );
      await manager.insert(WatchChangeEntity, {
        ...{ id: randomUUID(), groupName, version: row.version, folders, person, at, actor: by },
      });
    });
    this.saved.set(groupName, row.version);
    this.parts.wake();
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** Null where it was not saved since the server started. */
  savedFor({ groupName }: Pick<ReaderEntity, 'groupName'>): number | null {
    return this.saved.get(groupName) ?? null;
  }

  async versionFor({ groupName }: Pick<ReaderEntity, 'groupName'>): Promise<number> {
    const known = await this.manager.findOneBy(WatchGroupEntity, { groupName });
    return known?.version ?? 0;
  }

  /** What a machine watches, with all it takes to judge by itself while the workbench is away. */
  async ordersFor(reader: Pick<ReaderEntity, 'name' | 'groupName'>): Promise<WatchOrders> {
    const group = await this.manager.findOneBy(WatchGroupEntity, { groupName: reader.groupName });
    const document = this.published.current?.document;
    const { domains } = await this.people.getOrganisation();
    return {
      ...{ version: group?.version ?? 0, folders: group?.folders ?? [], domains },
      person: await this.personAt(reader),
      policies: document ? setOf(document) : NO_POLICIES,
      unfinished: this.settings.unfinished('endpoint'),
    };
  }

  /** Whoever works at the machine by the directory, or who was named for its group. */
  async personAt({
    name,
    groupName,
  }: Pick<ReaderEntity, 'name' | 'groupName'>): Promise<WatchOrders['person']> {
    const machine = await this.manager.findOneBy(MachineEntity, { name });
    const group = await this.manager.findOneBy(WatchGroupEntity, { groupName });
    const address = machine?.owner || group?.person || '';
    if (address === '') return null;
    const [person] = await this.people.findByAddresses([address]);
    const isOutside = await this.people.outsideTest();
    return { ...(person ? factsOf(person) : { address }), outside: isOutside(address) };
  }
}

const trimmed = ({ path, as, name, trusted }: WatchedFolder): WatchedFolder => ({
  ...{ as, name: name.trim(), trusted },
  path: path.trim().replace(/(?<=.)\/+$/u, ''),
});
