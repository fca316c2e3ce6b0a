import type { Permission } from '@lantern/contracts';
import type { RoleLimits } from '@lantern/contracts/access';

/** Limits of a role, with the account that holds it. */
export interface HeldLimits extends RoleLimits {
  /** Address of the holder, in whose team the people are. */
  readonly holder: string;
}

/** What one role allows, to whom, and in whose place. */
export interface Grant {
  readonly permissions: readonly Permission[];
  /** Null where it covers everybody. */
  readonly limits: HeldLimits | null;
  /** Address of the absent account whose role it is; null for one's own. */
  readonly inPlaceOf: string | null;
}

/** Grants that hold a permission. */
export const holding = (grants: readonly Grant[], needed: string | undefined): readonly Grant[] =>
  grants.filter(({ permissions }) => permissions.some((permission) => permission === needed));

/** Limits of roles together: what any one of them covers. Null where one of them has none. */
export const limitsOf = (held: readonly Grant[]): readonly HeldLimits[] | null => {
  const limited = held.flatMap(({ limits }) => (limits ? [limits] : []));
  return limited.length < held.length ? null : limited;
};
