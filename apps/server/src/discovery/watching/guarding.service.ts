import { machineGaps, type MachineGap } from '@lantern/core/insight';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull } from 'typeorm';
import { RevisionEntity } from '../../published/revision.entity.js';
import { FurtherFacts } from '../../insight/improve/further-facts.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { ReaderEntity } from '../readers/reader.entity.js';
import { WatchGroupEntity } from './watch-group.entity.js';

/** What machines that watch guard, and where they guard less than the rules say. */
@Injectable()
export class Guarding implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly published: PublishedRevision,
    private readonly further: FurtherFacts,
  ) {}

  onModuleInit(): void {
    this.further.machineGapsFrom(async (now) => (await this.state(now.getTime())).gaps);
  }

  /** Machines whose group watches something, and what is missing on each. */
  async state(
    now = Date.now(),
  ): Promise<{ readonly machines: number; readonly gaps: readonly MachineGap[] }> {
    const groups = (await this.manager.find(WatchGroupEntity)).filter(({ folders }) => folders.length > 0);
    const versions = new Map(groups.map(({ groupName, version }) => [groupName, version]));
    const readers = groups.length
      ? await this.manager.find(ReaderEntity, {
          where: { withdrawnAt: IsNull(), groupName: In([...versions.keys()]) },
          order: { name: 'ASC' },
        })
      : [];
    const revision = this.published.current?.number ?? null;
    const published =
      revision === null
        ? null
        : await this.manager.findOne(RevisionEntity, {
            where: { number: revision },
            select: { number: true, publishedAt: true },
          });
    const gaps = machineGaps(
      readers.map(({ name, lastSeen, revision, watching, groupName }) => ({
        ...{ name, lastSeen: lastSeen?.getTime() ?? null, revision },
        folders: watching?.folders ?? null,
        holdsOrders: watching?.version === versions.get(groupName),
      })),
      { revision, at: published?.publishedAt.getTime() ?? null },
      now,
    );
    return { machines: readers.length, gaps };
  }
}
