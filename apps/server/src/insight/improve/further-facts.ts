import type { StateFacts } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';

type Further = Pick<StateFacts, 'machineGaps' | 'lateCleanUps'>;
type Source<Name extends keyof Further> = (now: Date) => Promise<Further[Name]>;

/** Facts of areas that stand above this one: each says here how it is asked. */
@Injectable()
export class FurtherFacts {
  private machines: Source<'machineGaps'> = () => Promise.resolve([]);
  private cleanUps: Source<'lateCleanUps'> = () => Promise.resolve([]);

  machineGapsFrom(source: Source<'machineGaps'>): void {
    this.machines = source;
  }

  lateCleanUpsFrom(source: Source<'lateCleanUps'>): void {
    this.cleanUps = source;
  }

  async read(now: Date): Promise<Further> {
    const [machineGaps, lateCleanUps] = await Promise.all([this.machines(now), this.cleanUps(now)]);
    return { machineGaps, lateCleanUps };
  }
}
