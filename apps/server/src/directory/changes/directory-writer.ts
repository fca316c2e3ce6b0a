import { randomUUID } from 'node:crypto';
import type { PersonSource } from '@lantern/contracts/directory';
import { type DirectoryPlan, groupsOf, type GroupRule, type PersonRecord } from '@lantern/core/directory';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, Not } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { InstallationEntity } from '../../platform/installation.entity.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { DirectoryChangeEntity, FormerPersonEntity, PeopleGroupEntity } from '../directory.entity.js';
import { MachineEntity } from '../machines/machine.entity.js';
import { PeopleService } from '../people.service.js';
import { PersonEntity } from '../person.entity.js';
import { PlaceEntity } from '../place.entity.js';

const VERSION = 'directory-version';
/** Rows of one statement. */
const CHUNK = 500;

export type DirectorySteps = Pick<DirectoryPlan, 'added' | 'changed' | 'left'>;

/** Every change of people and groups goes through here: one after the other, each whole or not at all. */
@Injectable()
export class DirectoryWriter {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly live: LiveEvents,
  ) {}

  /** Rises with each change: what was looked at under another version no longer holds. */
  async version(): Promise<number> {
    const found = await this.manager.findOneBy(InstallationEntity, { name: VERSION });
    return Number(found?.value ?? 0);
  }

  /** Writes what a source tells. `version` is that of the directory it was compared with; null for whatever stands. */
  write(
    steps: DirectorySteps,
    {
      source,
      actor,
      refused = 0,
      version = null,
    }: {
      readonly source: PersonSource;
      readonly actor: string;
      readonly refused?: number;
      readonly version?: number | null;
    },
  ): Promise<DirectoryChangeEntity> {
    return this.inTurn(version, async (manager) => {
      const rules = await manager.find(PeopleGroupEntity);
      await this.leave(manager, steps.left);
      await this.change(manager, steps.changed, { source, rules });
      await this.add(manager, steps.added, { source, rules });
      const change = {
        ...{ id: randomUUID(), at: new Date(), actor, source, refused },
        ...{ added: steps.added.length, changed: steps.changed.length, left: steps.left.length },
      };
      await manager.insert(DirectoryChangeEntity, change);
      return change;
    });
  }

  /** Changes groups told by a condition, and works out anew who is in them. */
  changeGroups<Result>(work: (manager: EntityManager) => Promise<Result>): Promise<Result> {
    return this.inTurn(null, async (manager) => {
      const result = await work(manager);
      const rules = await manager.find(PeopleGroupEntity);
      for (const person of await manager.find(PersonEntity)) {
        const groups = [...groupsOf(recordOf(person), rules)];
        if (groups.join('\n') !== [...person.groups].sort().join('\n'))
          await manager.update(PersonEntity, { id: person.id }, { groups });
      }
      return result;
    });
  }

  /** One change at a time, and each only on what it was made for. */
  inTurn<Result>(version: number | null, work: (manager: EntityManager) => Promise<Result>): Promise<Result> {
    return this.manager.transaction(async (manager) => {
      await manager.query('INSERT IGNORE INTO installation (name, value, at) VALUES (?, ?, ?)', [
        ...[VERSION, '0', new Date()],
      ]);
      const row = await manager.findOneOrFail(InstallationEntity, {
        where: { name: VERSION },
        lock: { mode: 'pessimistic_write' },
      });
      if (version !== null && Number(row.value) !== version)
        throw new AppError(
          'changed-meanwhile',
          'The directory has changed since the comparison. Nothing was saved. Compare again.',
        );
      const result = await work(manager);
      await manager.update(
        InstallationEntity,
        { name: VERSION },
        { value: String(Number(row.value) + 1), at: new Date() },
      );
      this.people.forget();
      this.live.publish({ kind: 'directory-changed' });
      return result;
    });
  }

  private async leave(manager: EntityManager, left: readonly PersonRecord[]): Promise<void> {
    const leftAt = new Date();
    for (const some of chunks(left)) {
      const addresses = In(some.map(({ address }) => address));
      const people = await manager.findBy(PersonEntity, { address: addresses });
      await manager.upsert(
        FormerPersonEntity,
        people.map(({ id, sourceKey, address, name, department }) => ({
          ...{ id, sourceKey, address, name, department, leftAt },
        })),
        ['address'],
      );
      await manager.delete(PersonEntity, { address: addresses });
    }
  }

  private async change(
    manager: EntityManager,
    changed: DirectoryPlan['changed'],
    { source, rules }: { readonly source: PersonSource; readonly rules: readonly GroupRule[] },
  ): Promise<void> {
    const ids = new Map<string, string>();
    for (const some of chunks(changed)) {
      const addresses = In(some.map(({ before }) => before.address));
      for (const { address, id } of await manager.findBy(PersonEntity, { address: addresses }))
        ids.set(address.toLowerCase(), id);
    }
    const idOf = (address: string): string => ids.get(address) ?? '';
    // Two people may exchange their addresses: all of them are free before any is given.
    for (const { before, after } of changed)
      if (before.address !== after.address)
        await manager.update(PersonEntity, { id: idOf(before.address) }, { address: `~${randomUUID()}` });
    for (const { before, after } of changed)
      await manager.update(PersonEntity, { id: idOf(before.address) }, rowOf(after, source, rules));
    await this.rename(manager, changed);
  }

  /** Who is named by an address elsewhere in the directory keeps being named. */
  private async rename(manager: EntityManager, changed: DirectoryPlan['changed']): Promise<void> {
    const renamed = new Map(
      changed.flatMap(({ before, after }) =>
        before.address === after.address ? [] : [[before.address, after.address] as const],
      ),
    );
    if (renamed.size === 0) return;
    const old = In([...renamed.keys()]);
    // Managers of those whom the source told of are what it says.
    const told = In(changed.map(({ after }) => after.address));
    for (const person of await manager.findBy(PersonEntity, { manager: old, address: Not(told) }))
      await manager.update(
        PersonEntity,
        { id: person.id },
        { manager: renamed.get(person.manager ?? '') ?? person.manager },
      );
    for (const { name, owner } of await manager.findBy(MachineEntity, { owner: old }))
      await manager.update(MachineEntity, { name }, { owner: renamed.get(owner) ?? owner });
    for (const { id, owner } of await manager.findBy(PlaceEntity, { owner: old }))
      await manager.update(PlaceEntity, { id }, { owner: renamed.get(owner) ?? owner });
  }

  private async add(
    manager: EntityManager,
    added: readonly PersonRecord[],
    { source, rules }: { readonly source: PersonSource; readonly rules: readonly GroupRule[] },
  ): Promise<void> {
    for (const some of chunks(added)) {
      const addresses = In(some.map(({ address }) => address));
      const former = await manager.findBy(FormerPersonEntity, { address: addresses });
      const formerId = ({ address, key }: PersonRecord): string | undefined =>
        former.find((each) => each.address === address && each.sourceKey === key)?.id;
      await manager.insert(
        PersonEntity,
        some.map((person) => ({
          id: formerId(person) ?? randomUUID(),
          ...rowOf(person, source, rules),
        })),
      );
      await manager.delete(FormerPersonEntity, { address: addresses });
    }
  }
}

/** What the columns of a person hold. */
function rowOf(
  person: PersonRecord,
  source: PersonSource,
  rules: readonly GroupRule[],
): Omit<PersonEntity, 'id'> {
  const { address, name, department, office, title, manager, language, zone, key } = person;
  return {
    ...{ address, name, department, port: office, title, manager, language, source, sourceKey: key, zone },
    listed: [...person.groups],
    groups: [...groupsOf(person, rules)],
  };
}

/** A person as the core compares them. */
export function recordOf(person: PersonEntity): PersonRecord {
  const { address, name, department, port, title, listed, manager, language, zone, sourceKey } = person;
  return {
    ...{ address: address.toLowerCase(), name, department, office: port, title },
    ...{ groups: listed, manager, language, zone, key: sourceKey },
  };
}

function* chunks<Thing>(things: readonly Thing[]): Generator<readonly Thing[]> {
  for (let at = 0; at < things.length; at += CHUNK) yield things.slice(at, at + CHUNK);
}
