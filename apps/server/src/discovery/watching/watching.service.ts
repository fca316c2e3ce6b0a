import type { WatchOrders } from '@lantern/contracts/discovery';
import { NO_POLICIES } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { MachineEntity } from '../../directory/machines/machine.entity.js';
import { factsOf, PeopleService } from '../../directory/people.service.js';
import { ChannelSettings } from '../../movements/channels/channel-settings.service.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { setOf } from '../../published/revision.entity.js';
import { Parts } from '../parts/parts.service.js';
import type { ReaderEntity } from '../readers/reader.entity.js';
import { WatchGroupEntity } from './watch-group.entity.js';

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
  ) {}

  /** New settings of a group are in force. */
  wasSaved(groupName: string, version: number): void {
    this.saved.set(groupName, version);
    this.parts.wake();
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
