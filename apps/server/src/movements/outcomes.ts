import type { PersonNotice } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';

/** What became of something that waited. */
export interface Settled {
  /** Id of the submission. */
  readonly id: string;
  /** `waiting` where only what is told has changed. */
  readonly state: 'waiting' | 'went-on' | 'taken-back' | 'refused';
  readonly notice: Partial<PersonNotice>;
}

type Carrier = (manager: EntityManager, settled: Settled) => Promise<void>;

/** Carries outcomes to the pipeline, which tells the submitter: what waits and who submitted do not know each other. */
@Injectable()
export class Outcomes {
  private carrier: Carrier = () => Promise.reject(new Error('Nobody carries outcomes out yet'));

  carriedOutBy(carrier: Carrier): void {
    this.carrier = carrier;
  }

  /** Within the transaction that writes the outcome down. */
  carryOut(manager: EntityManager, settled: Settled): Promise<void> {
    return this.carrier(manager, settled);
  }
}
