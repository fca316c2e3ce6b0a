import type { Audience } from '../../directory/audience.js';
import type { Brand } from '../../shared/brand.js';

export type ExchangeId = Brand<string, 'ExchangeId'>;

/** An entry of the register of legitimate exchanges: who sends what to whom, why, until when. */
export interface Exchange {
  readonly id: ExchangeId;
  readonly name: string;
  readonly from: Audience;
  /** Addresses or domains of the receivers. */
  readonly to: readonly string[];
  /** Patterns that may go; empty for any. */
  readonly patterns: readonly string[];
  readonly why: string;
  readonly until: string | null;
}
