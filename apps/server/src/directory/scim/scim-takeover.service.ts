import type { DirectoryComparison, ScimView } from '@lantern/contracts/directory';
import { peopleOfScim, type ScimUser } from '@lantern/core/directory';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
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

/** What came of following what was sent, as a sentence, and whether it waits for somebody. */
interface Outcome {
  readonly said: string;
  readonly waits: boolean;
}

/** Makes the directory follow what SCIM clients tell. What would let too many leave waits for somebody. */
@Injectable()
export class ScimTakeover implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('directory');
  private timer: NodeJS.Timeout | undefined;
  private since: number | null = null;
  private running: Promise<void> = Promise.resolve();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly resources: ScimResources,
    private readonly changes: DirectoryChanges,
  ) {}

  /** The last server may have stopped between a request and the change of the directory. */
  async onApplicationBootstrap(): Promise<void> {
    if ((await this.resources.count('User')) > 0) this.changed();
  }

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
      waits: setting?.waits ?? false,
    };
  }

  async set(reviewed: boolean): Promise<ScimView> {
    await this.manager.save(ScimSettingEntity, { id: ID, reviewed });
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
      await this.keep(await this.apply());
    } catch (error) {
      const said = error instanceof AppError ? error.message : 'The directory could not follow.';
      this.log.error(error instanceof Error ? error.name : 'failed');
      // Somebody else changed the directory between the comparison and its use.
      if (error instanceof AppError && error.code === 'changed-meanwhile') this.changed();
      await this.keep({ said, waits: false }).catch(() => undefined);
    }
  }

  /** Applies what may be applied without anybody looking at it. Returns what was done, or what waits. */
  private async apply(): Promise<Outcome> {
    const { id, counts, leavingPercent } = await this.compare();
    const { added, changed, left, refused } = counts;
    const odd = refused > 0 ? ` ${refused} refused.` : '';
    const isSame = added + changed + left === 0;
    const setting = await this.manager.findOneBy(ScimSettingEntity, { id: ID });
    if (!isSame && leavingPercent === null && !setting?.reviewed) {
      await this.changes.apply(id, { leavingPercent: 100 }, ITSELF);
      return { said: `${added} added, ${changed} changed, ${left} removed.${odd}`, waits: false };
    }
    // Whoever looks at it compares anew: few comparisons are kept, and those are people's.
    this.changes.drop(id);
    if (isSame) return { said: `No changes.${odd}`, waits: false };
    const said =
      leavingPercent === null
        ? `${added} to add, ${changed} to change, ${left} to remove. Compare and confirm.`
        : `${left} people, ${leavingPercent} percent, would be removed. Nothing was changed. Compare and confirm.`;
    return { said, waits: true };
  }

  private async keep({ said, waits }: Outcome): Promise<void> {
    const before = await this.manager.findOneBy(ScimSettingEntity, { id: ID });
    await this.manager.save(ScimSettingEntity, {
      ...{ id: ID, reviewed: before?.reviewed ?? false },
      ...{ lastAt: new Date(), lastOutcome: said.slice(0, 500), waits },
    });
  }
}
