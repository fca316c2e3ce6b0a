import type { Permission } from '@lantern/contracts';
import { type HeldLimits, holding, limitsOf } from './grants.js';
import type { Caller } from './permit.js';

/** For whom something is shown: whether they may see what silent rules found, and which incidents. */
export interface Sight {
  readonly silent: boolean;
  /** Incidents within any one of these; null for all. */
  readonly limits: readonly HeldLimits[] | null;
}

/** Sight of everything that no silent rule found, for whatever is shown to nobody in particular. */
export const OPEN_SIGHT: Sight = { silent: false, limits: null };

/** For whom something is shown by one of their permissions, whatever the route needed. */
export const sightWith = (
  { permissions, grants }: Pick<Caller, 'permissions' | 'grants'>,
  permission: Permission,
): Sight => sightOf({ permissions, limits: limitsOf(holding(grants, permission)) });

export const sightOf = ({ permissions, limits }: Pick<Caller, 'permissions' | 'limits'>): Sight => ({
  silent: permissions.includes('policies.silent'),
  limits,
});
