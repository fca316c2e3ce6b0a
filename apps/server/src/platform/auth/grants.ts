import type { Permission } from '@lantern/contracts';
import type { RoleLimits } from '@lantern/contracts/access';

/** Limits of a role, with the address of its holder. */
export interface HeldLimits extends RoleLimits {
  /** Address of the manager whose team `ownTeam` covers. */
  readonly holder: string;
}

/** Permissions and limits of one role that an account holds or borrows as a deputy. */
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

/** Combined limits of several grants, of which any may match; null if one grant has no limits. */
export const limitsOf = (held: readonly Grant[]): readonly HeldLimits[] | null => {
  const limited = held.flatMap(({ limits }) => (limits ? [limits] : []));
  return limited.length < held.length ? null : limited;
};
