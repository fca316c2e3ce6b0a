import { READY_PATTERNS } from '@lantern/core/detection';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { afterCommit } from '../platform/database/transaction-context.js';
import { KnownNameEntity } from './queue/trait.entity.js';

export type NamedKind = KnownNameEntity['kind'];

/** A thing with its name. */
export interface Named {
  readonly kind: NamedKind;
  readonly id: string;
  readonly name: string;
}

/** Longest name that is kept. */
const NAME_LENGTH = 200;

/** Names of policies, rules, patterns and labels that incidents name, deleted ones included. */
@Injectable()
export class KnownNames implements OnModuleInit {
  private readonly names = new Map<NamedKind, Map<string, string>>();
  /** What the database holds: names are known before the transaction that writes them has ended. */
  private readonly written = new Map<string, string>();

  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  async onModuleInit(): Promise<void> {
    for (const { id, name } of READY_PATTERNS) this.of('pattern').set(id, name);
    for (const { kind, id, name } of await this.manager.find(KnownNameEntity)) {
      this.of(kind).set(id, name);
      this.written.set(`${kind} ${id}`, name);
    }
  }

  /** Writes down new names within the caller's transaction. */
  async remember(manager: EntityManager, things: readonly Named[]): Promise<void> {
    const changed = things
      .map((thing) => ({ ...thing, name: thing.name.slice(0, NAME_LENGTH) }))
      .filter(({ kind, id, name }) => this.written.get(`${kind} ${id}`) !== name);
    for (const { kind, id, name } of changed) this.of(kind).set(id, name);
    // In one order, so that two movements recorded at once do not wait for each other.
    const sorted = changed.sort((one, other) =>
      `${one.kind} ${one.id}`.localeCompare(`${other.kind} ${other.id}`),
    );
    for (const thing of sorted) await manager.upsert(KnownNameEntity, thing, ['kind', 'id']);
    afterCommit(() => {
      for (const { kind, id, name } of sorted) this.written.set(`${kind} ${id}`, name);
    });
  }

  /** What something is called; its id where no name is known. */
  nameOf(kind: NamedKind, id: string): string {
    return this.of(kind).get(id) ?? id;
  }

  /** Ids of everything whose name (or id) passes a test. */
  idsWhere(kind: NamedKind, test: (text: string) => boolean): string[] {
    return [...this.of(kind)].flatMap(([id, name]) => (test(name) || test(id) ? [id] : []));
  }

  /** A word for something that a filter finds again: its name where no other has it, else its id. */
  wordFor(kind: NamedKind, id: string): string {
    const name = this.of(kind).get(id);
    if (name === undefined) return id;
    const folded = name.toLowerCase();
    return this.idsWhere(kind, (text) => text.toLowerCase() === folded).length === 1 ? name : id;
  }

  private of(kind: NamedKind): Map<string, string> {
    const known = this.names.get(kind) ?? new Map<string, string>();
    this.names.set(kind, known);
    return known;
  }
}
