import { randomBytes, randomUUID } from 'node:crypto';
import { CODE_MINUTES, type ReaderCode, type ReaderView } from '@lantern/contracts';
import type {
  Enrolled,
  EnrolRequest,
  ReaderKeys,
  WatchingTold,
  WorkRequest,
} from '@lantern/contracts/discovery';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull, LessThan, MoreThan } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { PartEntity } from '../parts/part.entity.js';
import { Parts } from '../parts/parts.service.js';
import { WatchGroupEntity } from '../watching/watch-group.entity.js';
import { NO_LIMITS, ReaderCosts } from './reader-costs.service.js';
import { ReaderCodeEntity, ReaderEntity } from './reader.entity.js';
import { claimedReader, codeOf, demandToken, digestOfCode, unknown } from './reader-tokens.js';

const DAY_MS = 86_400_000;
/** A reader renews its keys from the middle of this time on. */
const KEYS_LIVE_MS = 90 * DAY_MS;
/** Whoever looks at readers is warned before: a machine that was off for so long needs a hand. */
const WARNED_MS = 14 * DAY_MS;
/** A reader asks for work at least twice in this time. */
const SILENT_AFTER_MS = 60_000;

/** Programs near the data: enrolled by a code that lives minutes and works once, known by their own keys from then on. */
@Injectable()
export class Readers {
  /** Readers whose request may still wait for work. */
  private readonly withdrawn = new Set<string>();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly parts: Parts,
    private readonly costs: ReaderCosts,
    private readonly live: LiveEvents,
  ) {}

  /** A code is told once, and only its digest is kept. */
  async createCode(group: string, by: string, now = new Date()): Promise<ReaderCode> {
    await this.manager.delete(ReaderCodeEntity, { endsAt: LessThan(now) });
    const code = codeOf(randomBytes(12));
    const endsAt = new Date(now.getTime() + CODE_MINUTES * 60_000);
    const groupName = group.trim();
    await this.manager.insert(ReaderCodeEntity, {
      ...{ digest: digestOfCode(code), groupName, endsAt, createdBy: by },
    });
    return { code, endsAt: endsAt.toISOString() };
  }

  /** Takes a code and the public keys that a reader made for itself. */
  async enrol(request: EnrolRequest, now = new Date()): Promise<Enrolled> {
    const id = randomUUID();
    const keyEndsAt = new Date(now.getTime() + KEYS_LIVE_MS);
    const digest = digestOfCode(request.code);
    const groupName = await this.manager.transaction(async (manager) => {
      const code = await manager.findOneBy(ReaderCodeEntity, { digest, endsAt: MoreThan(now) });
      // Whoever removes it has it: two readers with one code cannot both.
      const taken = code && (await manager.delete(ReaderCodeEntity, { digest })).affected === 1;
      if (!taken)
        throw new AppError(
          'unknown-reader',
          `This code was used, is wrong or is older than ${CODE_MINUTES} minutes. Ask for a new one under Discovery, Machines.`,
        );
      await manager.insert(ReaderEntity, {
        ...{ id, name: request.name.trim(), groupName: code.groupName, platform: request.platform },
        ...{ version: request.version, signingKey: request.keys.signing, sealingKey: request.keys.sealing },
        ...{ keyEndsAt, enrolledAt: now, enrolledBy: code.createdBy, lastSeen: now, revision: null },
        ...{ rights: readRights(request.rights), notLookedFor: [], trouble: null, cost: null },
        ...{ used: null, withdrawnAt: null, watching: null, instance: null, told: null, holdsRecords: false },
      });
      return code.groupName;
    });
    this.live.publish({ kind: 'discovery-changed' });
    return { id, name: request.name.trim(), group: groupName, keyEndsAt: keyEndsAt.toISOString() };
  }

  /** The reader behind a request; throws `unknown-reader` for one that was withdrawn or whose keys ended. */
  async of(
    authorization: string | undefined,
    request: { readonly method: string; readonly path: string },
  ): Promise<ReaderEntity> {
    const claimed = claimedReader(authorization);
    const reader = claimed
      ? await this.manager.findOneBy(ReaderEntity, { id: claimed.id, withdrawnAt: IsNull() })
      : null;
    if (!claimed || !reader) throw unknown();
    await demandToken(claimed.token, reader.signingKey, request);
    if (reader.keyEndsAt <= new Date())
      throw new AppError(
        'unknown-reader',
        'The keys of this reader are over: it was away for longer than they live. Enrol it again with a new code.',
      );
    return reader;
  }

  /** New keys, signed for with the old ones. */
  async renew(id: string, keys: ReaderKeys, now = new Date()): Promise<{ readonly keyEndsAt: string }> {
    const keyEndsAt = new Date(now.getTime() + KEYS_LIVE_MS);
    await this.manager.update(
      ReaderEntity,
      { id },
      { signingKey: keys.signing, sealingKey: keys.sealing, keyEndsAt },
    );
    return { keyEndsAt: keyEndsAt.toISOString() };
  }

  isWithdrawn(id: string): boolean {
    return this.withdrawn.has(id);
  }

  /** What a reader says of itself. */
  async saw(
    reader: ReaderEntity,
    said: WorkRequest,
    through: string | null,
    now = new Date(),
  ): Promise<void> {
    const { revision, version, used, trouble, notLookedFor, watching } = said;
    const instance = demandSameProgram(reader, said);
    await this.manager.update(
      ReaderEntity,
      { id: reader.id },
      {
        revision: revision ?? null,
        version,
        trouble: trouble ?? null,
        notLookedFor,
        lastSeen: now,
        used: readUse(used),
        watching: watching ?? null,
        instance,
        told: said.told ? { ...said.told, through } : null,
      },
    );
    if (JSON.stringify(watching ?? null) !== JSON.stringify(reader.watching ?? null))
      this.live.publish({ kind: 'discovery-changed' });
  }

  /** What it says of its watching as soon as it changes. */
  async watches({ id }: ReaderEntity, watching: WatchingTold): Promise<void> {
    await this.manager.update(ReaderEntity, { id }, { watching, lastSeen: new Date() });
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** From now on its key opens nothing, and what it had in hand goes to others. */
  async withdraw(id: string): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const changed = await manager.update(
        ReaderEntity,
        { id, withdrawnAt: IsNull() },
        { withdrawnAt: new Date() },
      );
      if (!changed.affected) throw new AppError('not-found', 'There is no such reader.');
      await manager.update(
        PartEntity,
        { readerId: id, state: 'taken' },
        { state: 'waiting', readerId: null, leaseUntil: null },
      );
    });
    this.withdrawn.add(id);
    this.parts.wake();
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** Lets a reader look for own records and documents, or no longer: what it held for a run goes with that run. */
  async letHoldRecords(id: string, allowed: boolean): Promise<void> {
    const changed = await this.manager.update(
      ReaderEntity,
      { id, withdrawnAt: IsNull() },
      { holdsRecords: allowed },
    );
    if (!changed.affected) throw new AppError('not-found', 'There is no such reader.');
    this.live.publish({ kind: 'discovery-changed' });
  }

  anyHoldsRecords(): Promise<boolean> {
    return this.manager.existsBy(ReaderEntity, { holdsRecords: true, withdrawnAt: IsNull() });
  }

  /** Groups with a reader that was seen lately. */
  async groupsAtWork(now = new Date()): Promise<ReadonlySet<string>> {
    const since = new Date(now.getTime() - SILENT_AFTER_MS);
    const found = await this.manager.find(ReaderEntity, {
      where: { withdrawnAt: IsNull(), lastSeen: MoreThan(since) },
      select: { groupName: true },
    });
    return new Set(found.map(({ groupName }) => groupName));
  }

  private async watchVersions(): Promise<ReadonlyMap<string, number>> {
    const groups = await this.manager.find(WatchGroupEntity, { select: { groupName: true, version: true } });
    return new Map(groups.map(({ groupName, version }) => [groupName, version]));
  }

  async list(caller: Pick<Caller, 'permissions'>, now = new Date()): Promise<ReaderView[]> {
    const readers = await this.manager.find(ReaderEntity, { order: { enrolledAt: 'ASC' } });
    const parts = await this.manager.query<{ readerId: string; parts: string }[]>(
      "SELECT readerId, COUNT(*) AS parts FROM discovery_part WHERE state = 'taken' GROUP BY readerId",
    );
    const versions = await this.watchVersions();
    const costs = await this.costs.ofGroups();
    const busy = new Map(parts.map((row) => [row.readerId, Number(row.parts)]));
    const names = new Map(readers.map(({ id, name }) => [id, name]));
    const seesPaths = caller.permissions.includes('discovery.manage');
    return readers.map((reader) => ({
      ...{ id: reader.id, name: reader.name, group: reader.groupName, platform: reader.platform },
      ...{ version: reader.version, enrolledBy: reader.enrolledBy, revision: reader.revision },
      enrolledAt: reader.enrolledAt.toISOString(),
      lastSeen: reader.lastSeen?.toISOString() ?? null,
      state: stateOf(reader, busy.get(reader.id) ?? 0, now),
      keyEndsAt: reader.keyEndsAt.toISOString(),
      keyEndsSoon: !reader.withdrawnAt && reader.keyEndsAt.getTime() - now.getTime() < WARNED_MS,
      rights: seesPaths ? reader.rights : [],
      holdsRecords: reader.holdsRecords,
      notLookedFor: reader.holdsRecords ? [] : reader.notLookedFor,
      ...{ trouble: reader.trouble, ownCost: reader.cost !== null },
      promised: reader.cost ?? costs.get(reader.groupName) ?? NO_LIMITS,
      ...{ used: reader.used, parts: busy.get(reader.id) ?? 0, watching: reader.watching },
      watchIsOld: (versions.get(reader.groupName) ?? 0) !== (reader.watching?.version ?? 0),
      ...toldBy(reader, names),
    }));
  }
}

/** The program that began last keeps the identity; one from before ends, and says why. */
function demandSameProgram(reader: ReaderEntity, { instance, isFresh }: WorkRequest): string | null {
  if (instance === undefined || isFresh === true || reader.instance === null)
    return instance ?? reader.instance;
  if (instance !== reader.instance)
    throw new AppError(
      'in-use',
      `Another program began to work as "${reader.name}", so this one ends. Enrol each machine with a code of its own.`,
    );
  return instance;
}

/** What it said of its machine and its way here. */
function toldBy({ told }: ReaderEntity, names: ReadonlyMap<string, string>) {
  return {
    ...{ resting: told?.resting ?? null, battery: told?.battery ?? null, serves: told?.serves ?? null },
    ...{ roundTripMs: told?.roundTripMs ?? null, clockAheadMs: told?.clockAheadMs ?? null },
    through: told?.through ? (names.get(told.through) ?? null) : null,
  };
}

function stateOf({ withdrawnAt, lastSeen }: ReaderEntity, parts: number, now: Date): ReaderView['state'] {
  if (withdrawnAt) return 'withdrawn';
  if (!lastSeen || now.getTime() - lastSeen.getTime() > SILENT_AFTER_MS) return 'silent';
  return parts > 0 ? 'at-work' : 'waiting';
}

const RIGHTS: readonly string[] = [
  ...['reads', 'reads-not', 'writes', 'writes-not', 'recognises-text', 'recognises-not'],
];

/** Rights as a reader listed them; what is none is left out. */
function readRights(given: EnrolRequest['rights']): EnrolRequest['rights'] {
  return given.flatMap(({ code, path }) =>
    RIGHTS.includes(code) && typeof path === 'string' ? [{ code, path: path.slice(0, 500) }] : [],
  );
}

function readUse(used: WorkRequest['used']): WorkRequest['used'] {
  if (!used) return null;
  const { processor, bytesPerSecond, itemsPerSecond, residentMegabytes } = used;
  const all = { processor, bytesPerSecond, itemsPerSecond, residentMegabytes };
  return Object.values(all).every((value) => Number.isFinite(value) && value >= 0) ? all : null;
}
