import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';

/** Counts items by the id of the label they carry. */
type Counter = (manager: EntityManager) => Promise<ReadonlyMap<string, number>>;

/** How many items carry each label, wherever items are kept: whoever keeps some registers a counter. */
@Injectable()
export class LabelCarriers {
  private readonly counters: Counter[] = [];

  countBy(counter: Counter): void {
    this.counters.push(counter);
  }

  async count(manager: EntityManager): Promise<Map<string, number>> {
    const sum = new Map<string, number>();
    for (const counter of this.counters)
      for (const [label, items] of await counter(manager)) sum.set(label, (sum.get(label) ?? 0) + items);
    return sum;
  }
}
