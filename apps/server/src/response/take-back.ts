import type { Channel } from '@lantern/core/movement';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';

/** Takes back what one movement gave, within the caller's transaction. Gives how many things that were. */
export type TakesBack = (manager: EntityManager, movementId: string) => Promise<number>;

/** Channels in which something that was given can be taken back; each registers how. */
@Injectable()
export class TakeBack {
  private readonly takers = new Map<Channel, TakesBack>();

  offeredBy(channel: Channel, taker: TakesBack): void {
    this.takers.set(channel, taker);
  }

  /** How many things were taken back; none where the channel cannot, or nothing stands any more. */
  async take(manager: EntityManager, channel: Channel, movementId: string): Promise<number> {
    return (await this.takers.get(channel)?.(manager, movementId)) ?? 0;
  }
}
