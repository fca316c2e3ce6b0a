import type { PersonNotice } from '@lantern/contracts';
import type { Channel } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';

/** What became of something that waited. */
export interface Settled {
  readonly id: string;
  readonly state: 'went-on' | 'taken-back' | 'refused';
  readonly notice: Partial<PersonNotice>;
}

/** Carries an outcome out, within the transaction that writes it down. False: the thing is not its own. */
export type Carrier = (manager: EntityManager, settled: Settled) => Promise<boolean>;

/** Who carries out what was decided, by channel: the channels register, and nobody needs to know them. */
@Injectable()
export class Outcomes {
  private readonly carriers = new Map<Channel, Carrier[]>();

  register(channels: readonly Channel[], carrier: Carrier): void {
    for (const channel of channels)
      this.carriers.set(channel, [...(this.carriers.get(channel) ?? []), carrier]);
  }

  async carryOut(manager: EntityManager, channel: Channel, settled: Settled): Promise<void> {
    for (const carrier of this.carriers.get(channel) ?? []) if (await carrier(manager, settled)) return;
  }
}
