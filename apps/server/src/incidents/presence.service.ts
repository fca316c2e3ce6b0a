import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Caller } from '../platform/auth/permit.js';
import { sightOf } from '../platform/auth/sight.js';
import { demandVisible } from './visible.js';

/** Browsers say so often that an incident is open; twice missed, it is closed. */
const OPEN_FOR_MS = 40_000;

/** Who has which incident open now. Kept in memory only. */
@Injectable()
export class Presence {
  private readonly open = new Map<number, Map<string, { readonly name: string; readonly at: number }>>();

  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  /** Notes that somebody has an incident open, and gives the names of the others. Throws `not-found`. */
  async note(number: number, caller: Caller, now: number): Promise<string[]> {
    await demandVisible(this.manager, number, sightOf(caller));
    const { accountId, name } = caller;
    for (const [known, people] of this.open) {
      for (const [id, { at }] of people) if (at < now - OPEN_FOR_MS || id === accountId) people.delete(id);
      if (people.size === 0) this.open.delete(known);
    }
    const people = this.open.get(number) ?? new Map<string, { name: string; at: number }>();
    const others = [...people.values()].map((one) => one.name);
    people.set(accountId, { name, at: now });
    this.open.set(number, people);
    return others.sort();
  }
}
