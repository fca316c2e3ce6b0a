import { createHash } from 'node:crypto';
import { isEverywhere } from '@lantern/core/detection';
import { type LookedFacts, type Reread, rereadOf } from '@lantern/core/discovery';
import { Injectable } from '@nestjs/common';
import { EntityManager } from 'typeorm';
import { DiscoveryContext } from '../discovery-context.js';
import { LookedForEntity } from './looked-for.entity.js';
import { OwnKnowledge } from './own-knowledge.service.js';

const digestOf = (value: unknown): string => createHash('sha256').update(JSON.stringify(value)).digest('hex');
/** Comparisons that are remembered: items of a place were read by a handful of earlier runs. */
const REMEMBERED = 200;

/** What runs look for, and what a changed revision makes them read again. */
@Injectable()
export class WhatRunsLookFor {
  private readonly compared = new Map<string, Reread>();

  constructor(
    private readonly context: DiscoveryContext,
    private readonly knowledge: OwnKnowledge,
  ) {}

  /** Remembers what is looked for now, and gives its digest. */
  async now(manager: EntityManager): Promise<string> {
    const { own, wanted, labels } = this.context.lookedFor;
    const state = await this.knowledge.stateForRuns();
    const facts: LookedFacts = {
      patterns: Object.fromEntries([
        ...own.map((pattern) => [pattern.id, digestOf(pattern)]),
        ...(state === null
          ? []
          : this.context.kept.map((pattern) => [pattern.id, digestOf([pattern, state])])),
      ]),
      wanted: wanted.filter((id) => isEverywhere(id)),
      labels: digestOf([
        labels.labels.map(({ id, name, rank, retired }) => [id, name, rank, retired]),
        labels.automatic,
      ]),
    };
    const digest = digestOf(facts);
    await manager.query('INSERT IGNORE INTO discovery_looked_for (digest, facts) VALUES (?, ?)', [
      digest,
      JSON.stringify(facts),
    ]);
    return digest;
  }

  /** What a run must read again of what was read under `before`: everything where that is not known any more. */
  async reread(manager: EntityManager, before: string | null, now: string): Promise<Reread> {
    if (before === null) return { kind: 'all' };
    if (before === now) return { kind: 'having', patterns: new Set() };
    const key = `${before} ${now}`;
    const known = this.compared.get(key);
    if (known) return known;
    const [earlier, later] = await Promise.all(
      [before, now].map((digest) => manager.findOneBy(LookedForEntity, { digest })),
    );
    const reread: Reread = earlier && later ? rereadOf(earlier.facts, later.facts) : { kind: 'all' };
    if (this.compared.size >= REMEMBERED) this.compared.clear();
    this.compared.set(key, reread);
    return reread;
  }
}
