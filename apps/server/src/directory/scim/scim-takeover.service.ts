import type { DirectoryComparison, ScimView } from '@lantern/contracts/directory';
import { peopleOfScim, type ScimUser } from '@lantern/core/directory';
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { DirectoryChanges } from '../changes/directory-changes.service.js';
import { membersOf } from './scim-members.js';
import { ScimResources } from './scim-resources.service.js';
import { ScimSettingEntity } from './scim.entity.js';

const ID = 1;
/** A client tells of people one by one: the directory follows when it has been quiet for so long. */
const QUIET_MS = 1_000;
/** Or while it goes on and on. */
const AT_LEAST_EVERY_MS = 30_000;
const ITSELF = 'SCIM';

/** Makes the directory follow what SCIM clients tell. What would let too many leave waits for somebody. */
@Injectable()
export class ScimTakeover implements OnApplicationShutdown {
  private readonly log = new Logger('directory');
  private timer: NodeJS.Timeout | undefined;
  private since: number | null = null;
  private running: Promise<void> = Promise.resolve();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly resources: ScimResources,
    private readonly changes: DirectoryChanges,
  ) {}

  async onApplicationShutdown(): Promise<void> {
    clearTimeout(this.timer);
    await this.running;
  }

  async view(): Promise<ScimView> {
    const setting = await this.manager.findOneBy(ScimSettingEntity, { id: ID });
    const [users, groups] = await Promise.all([this.resources.count('User'), this.resources.count('Group')]);
    return {
      ...{ users, groups, reviewed: setting?.reviewed ?? false },
      lastAt: setting?.lastAt?.toISOString() ?? null,
      lastOutcome: setting?.lastOutcome ?? null,
    };
  }

  async set(reviewed: boolean): Promise<ScimView> {
    const before = await this.manager.findOneBy(ScimSettingEntity, { id: ID });
    await this.manager.save(ScimSettingEntity, {
      ...{ id: ID, reviewed, lastAt: before?.lastAt ?? null, lastOutcome: before?.lastOutcome ?? null },
    });
    if (!reviewed) this.changed();
    return this.view();
  }

  /** A client told something new. */
  changed(): void {
    this.since ??= Date.now();
    clearTimeout(this.timer);
    const left = Math.max(0, this.since + AT_LEAST_EVERY_MS - Date.now());
    this.timer = setTimeout(
      () => {
        this.since = null;
        this.running = this.running.then(() => this.follow());
      },
      Math.min(QUIET_MS, left),
    );
    this.timer.unref();
  }

  /** What the directory would be; nothing is changed. */
  async compare(): Promise<DirectoryComparison> {
    const [users, groups] = await Promise.all([this.resources.all('User'), this.resources.all('Group')]);
    const members = await membersOf(
      this.manager,
      groups.map(({ id }) => id),
    );
    const told = peopleOfScim(
      users.map(({ id, attributes }) => ({ ...attributes, id }) as ScimUser),
      groups.map(({ id, name }) => ({ id, displayName: name, members: members.get(id) ?? [] })),
    );
    return this.changes.compare('scim', { kind: 'listed', told }, true);
  }

  private async follow(): Promise<void> {
    try {
      const lastOutcome = await this.apply();
      if (lastOutcome !== null) await this.keep(lastOutcome);
    } catch (error) {
      const said = error instanceof AppError ? error.message : 'The directory could not follow.';
      this.log.error(error instanceof Error ? error.name : 'failed');
      await this.keep(said).catch(() => undefined);
    }
  }

  private async apply(): Promise<string | null> {
    const comparison = await this.compare();
    const { added, changed, left, refused } = comparison.counts;
    const odd = refused > 0 ? ` ${refused} refused.` : '';
    if (added + changed + left === 0) {
      this.changes.drop(comparison.id);
      return `No changes.${odd}`;
    }
    if (comparison.leavingPercent !== null)
      return `${left} people, ${comparison.leavingPercent} percent, would be removed. Nothing was changed. Compare and confirm.`;
    const setting = await this.manager.findOneBy(ScimSettingEntity, { id: ID });
    if (setting?.reviewed)
      return `${added} to add, ${changed} to change, ${left} to remove. Compare and confirm.`;
    await this.changes.apply(comparison.id, { leavingPercent: 100 }, ITSELF);
    return `${added} added, ${changed} changed, ${left} removed.${odd}`;
  }

  private async keep(lastOutcome: string): Promise<void> {
    const before = await this.manager.findOneBy(ScimSettingEntity, { id: ID });
    const now = { lastAt: new Date(), lastOutcome: lastOutcome.slice(0, 500) };
    await this.manager.save(ScimSettingEntity, { id: ID, reviewed: before?.reviewed ?? false, ...now });
  }
}
