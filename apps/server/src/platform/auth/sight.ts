import type { Permission } from '@lantern/contracts';
import { type HeldLimits, holding, limitsOf } from './grants.js';
import type { Caller } from './permit.js';

/** What a viewer may see: matches of silent rules or not, and which incidents. */
export interface Sight {
  readonly silent: boolean;
  /** Limits, of which any may match; null for no limits. */
  readonly limits: readonly HeldLimits[] | null;
}

/** Sight without silent rules and without limits, for reports and web hooks. */
export const OPEN_SIGHT: Sight = { silent: false, limits: null };

/** Sight of a caller for one permission, which can differ from that of the called route. */
export const sightWith = (
  { permissions, grants }: Pick<Caller, 'permissions' | 'grants'>,
  permission: Permission,
): Sight => sightOf({ permissions, limits: limitsOf(holding(grants, permission)) });

/** Whether a viewer sees codes in the place of people's names: only where each of their roles says so. */
export const hidesNames = ({ limits }: Pick<Sight, 'limits'>): boolean =>
  limits !== null && limits.length > 0 && limits.every((each) => each.hidesNames === true);

export const sightOf = ({ permissions, limits }: Pick<Caller, 'permissions' | 'limits'>): Sight => ({
  silent: permissions.includes('policies.silent'),
  limits,
});
