import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AccountEntity } from '../accounts/account.entity.js';
import { MovementEntity } from '../incidents/incident.entity.js';
import { InstallationEntity } from '../platform/installation.entity.js';

/** Name under which an installation remembers how far loading its first content came. */
const NAME = 'demo';

/** How far loading the first content of an installation came: never begun, cut off, or done. */
export type LoadState = 'fresh' | 'begun' | 'done';

/** Remembers that first content is being loaded, so that only what was cut off in it may ever be emptied. */
@Injectable()
export class DemoState {
  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  /** Without a note, a database that holds accounts or movements is somebody's: it counts as done. */
  async find(): Promise<LoadState> {
    const found = await this.manager.findOneBy(InstallationEntity, { name: NAME });
    if (found) return found.value === 'done' ? 'done' : 'begun';
    const used = (await this.manager.exists(AccountEntity)) || (await this.manager.exists(MovementEntity));
    return used ? 'done' : 'fresh';
  }

  async note(value: 'begun' | 'done'): Promise<void> {
    await this.manager.save(InstallationEntity, { name: NAME, value, at: new Date() });
  }
}
