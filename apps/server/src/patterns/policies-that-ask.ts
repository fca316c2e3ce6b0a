import type { Policy } from '@lantern/core/policy';

/** The drafted policies, whose rules ask for patterns; the domain of policies provides them. */
export abstract class PoliciesThatAsk {
  abstract policies(): Promise<readonly Policy[]>;
}
