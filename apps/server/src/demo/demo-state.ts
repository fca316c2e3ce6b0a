import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AccountEntity } from '../accounts/account.entity.js';
import { MovementEntity } from '../incidents/incident.entity.js';
import { OrganisationEntity, PersonEntity } from '../directory/person.entity.js';
import { InstallationEntity } from '../platform/installation.entity.js';
import { PolicyDraftEntity } from '../policies/policy.entity.js';
import { RevisionEntity } from '../published/revision.entity.js';

/** Name under which an installation remembers how far loading its first content came. */
const NAME = 'demo';

/** Tables of which one row shows that an installation is in use, with or without accounts. */
const HELD = [
  AccountEntity,
  MovementEntity,
  OrganisationEntity,
  PersonEntity,
  PolicyDraftEntity,
  RevisionEntity,
];

/** How far loading the first content of an installation came: never begun, cut off, or done. */
export type LoadState = 'fresh' | 'begun' | 'done';

/** Remembers that first content is being loaded, so that only what was cut off in it may ever be emptied. */
@Injectable()
export class DemoState {
  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  /** A database without a note that holds anything at all is in use: it counts as done and is never emptied. */
  async find(): Promise<LoadState> {
    const found = await this.manager.findOneBy(InstallationEntity, { name: NAME });
    if (found) return found.value === 'done' ? 'done' : 'begun';
    for (const entity of HELD) if (await this.manager.exists(entity)) return 'done';
    return 'fresh';
  }

  async note(value: 'begun' | 'done'): Promise<void> {
    await this.manager.save(InstallationEntity, { name: NAME, value, at: new Date() });
  }
}
