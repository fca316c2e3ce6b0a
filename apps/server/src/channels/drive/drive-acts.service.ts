import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Player } from '../../people/people.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { WaitingService } from '../../waiting/waiting.service.js';
import { AttemptsService } from '../intake/attempts.service.js';
import { Reports } from '../reports.service.js';
import { DriveShareEntity } from './drive.entity.js';
import { DriveFiles } from './drive-files.service.js';
import { DriveShares } from './drive-shares.service.js';

const AGENT = 'drive';

/** What the owner of a file does about a share that was stopped or asked about. */
@Injectable()
export class DriveActs {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly files: DriveFiles,
    private readonly shares: DriveShares,
    private readonly attempts: AttemptsService,
    private readonly waiting: WaitingService,
    private readonly reports: Reports,
  ) {}

  async end(id: string, player: Player): Promise<void> {
    await this.own(id, player);
    await this.shares.end(id);
  }

  async reply(
    id: string,
    player: Player,
    reply: { readonly leads: 'goes-on' | 'stays'; readonly words: string },
  ): Promise<void> {
    const { share, person } = await this.own(id, player);
    await this.waiting.reply(share.attemptId, person, reply);
  }

  async askOverride(id: string, player: Player, words: string): Promise<void> {
    const { share, person } = await this.own(id, player);
    await this.attempts.askOverride(person, { agent: AGENT, id: share.attemptId }, words);
  }

  async report(id: string, player: Player, words: string): Promise<void> {
    const { share, person } = await this.own(id, player);
    const { incident } = await this.attempts.find(AGENT, share.attemptId);
    if (incident === null) throw new AppError('act-refused', 'Nothing was found here that could be wrong.');
    await this.manager.transaction(async (manager) => {
      await manager.update(DriveShareEntity, { id }, { reported: true });
      await this.reports.record(manager, { incident, by: person.name, words });
    });
    this.reports.announce(incident);
  }

  private async own(id: string, player: Player): Promise<{ share: DriveShareEntity; person: PersonEntity }> {
    const share = await this.shares.get(id);
    await this.files.mine(share.fileId, player);
    if (!player.person) throw new AppError('not-permitted', 'People outside own nothing on this drive.');
    return { share, person: player.person };
  }
}
