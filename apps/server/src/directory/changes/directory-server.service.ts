import {
  type DirectoryComparison,
  type DirectoryServerRequest,
  type DirectoryServerView,
} from '@lantern/contracts/directory';
import { localDay } from '@lantern/core/shared';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { FilterParser } from 'ldapts';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { DirectoryServerEntity, type ServerSettings } from '../directory.entity.js';
import { DirectoryChanges } from './directory-changes.service.js';

const ID = 1;
const SEALED_AT = 'directory-server';
const SWEEP_MS = 10 * 60_000;
/** Read by itself once a day, at the first sweep after this hour (UTC). */
const NIGHT_HOUR = 2;
const ITSELF = 'the nightly read';

/** Reads people from a directory server, when asked and each night. */
@Injectable()
export class DirectoryServer implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('directory');
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly changes: DirectoryChanges,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void this.sweep(new Date()).catch(() => undefined), SWEEP_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  async get(): Promise<DirectoryServerView | null> {
    const found = await this.manager.findOneBy(DirectoryServerEntity, { id: ID });
    if (!found) return null;
    return {
      ...found.settings,
      hasPassword: found.password !== null,
      lastRead: found.lastRead?.toISOString() ?? null,
      lastOutcome: found.lastOutcome,
    };
  }

  /** A password never goes to another address than the one it was entered for. */
  async set({ password, ...settings }: DirectoryServerRequest): Promise<DirectoryServerView> {
    demandFilter(settings.filter);
    const before = await this.manager.findOneBy(DirectoryServerEntity, { id: ID });
    const same = before?.settings.address === settings.address && before.settings.user === settings.user;
    const sealed = password
      ? await seal(this.config.keys.installation, SEALED_AT, Buffer.from(password))
      : same && password === undefined
        ? before.password
        : null;
    await this.manager.save(DirectoryServerEntity, {
      ...{ id: ID, settings: plain(settings), password: sealed },
      ...{ lastRead: before?.lastRead ?? null, lastOutcome: before?.lastOutcome ?? null },
    });
    const view = await this.get();
    if (!view) throw new AppError('internal', 'The directory server was not saved.');
    return view;
  }

  async remove(): Promise<void> {
    await this.manager.delete(DirectoryServerEntity, { id: ID });
  }

  /** Reads it and compares; nothing is changed. */
  async compare(): Promise<DirectoryComparison> {
    const found = await this.manager.findOneBy(DirectoryServerEntity, { id: ID });
    if (!found) throw new AppError('not-found', 'No directory server is set up.');
    const { settings, password } = found;
    const opened = password
      ? (await unseal(this.config.keys.installation, SEALED_AT, password)).toString('utf8')
      : null;
    return this.changes.compare(
      'server',
      { kind: 'server', server: { ...settings, password: opened } },
      settings.whole,
    );
  }

  /** Reads it once a night where that is wanted. What would let too many leave waits for somebody. */
  async sweep(now: Date): Promise<void> {
    const found = await this.manager.findOneBy(DirectoryServerEntity, { id: ID });
    if (!found?.settings.nightly || now.getUTCHours() < NIGHT_HOUR) return;
    if (found.lastRead && localDay(found.lastRead.getTime(), 'UTC') === localDay(now.getTime(), 'UTC'))
      return;
    const lastOutcome = await this.read();
    this.log.log(`Directory server: ${lastOutcome}`);
    await this.manager.update(DirectoryServerEntity, { id: ID }, { lastRead: now, lastOutcome });
  }

  private async read(): Promise<string> {
    try {
      const comparison = await this.compare();
      const { added, changed, left } = comparison.counts;
      if (added + changed + left === 0) {
        this.changes.drop(comparison.id);
        return 'No changes.';
      }
      if (comparison.leavingPercent !== null)
        return `${left} people, ${comparison.leavingPercent} percent, would be removed. Nothing was changed. Compare and confirm.`;
      await this.changes.apply(comparison.id, { leavingPercent: 100 }, ITSELF);
      return `${added} added, ${changed} changed, ${left} removed.`;
    } catch (error) {
      return error instanceof AppError ? error.message : 'The server could not be read.';
    }
  }
}

function plain({
  address,
  startTls,
  authority,
  user,
  base,
  filter,
  whole,
  nightly,
}: ServerSettings): ServerSettings {
  return { address, startTls, authority, user, base, filter, whole, nightly };
}

function demandFilter(filter: string): void {
  try {
    FilterParser.parseString(filter);
  } catch {
    throw new AppError('invalid-request', 'The filter cannot be read (RFC 4515). Nothing was saved.');
  }
}
