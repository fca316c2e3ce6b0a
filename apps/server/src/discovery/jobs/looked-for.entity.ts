import type { LookedFacts } from '@lantern/core/discovery';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What runs looked for, by its digest: tells a later run what it must read again. */
@Entity('discovery_looked_for')
export class LookedForEntity {
  @PrimaryColumn({ type: 'char', length: 64 })
  digest: string;

  @Column({
    type: 'longtext',
    transformer: {
      to: (facts: LookedFacts) => JSON.stringify(facts),
      from: (text: string) => JSON.parse(text) as LookedFacts,
    },
  })
  facts: LookedFacts;
}
