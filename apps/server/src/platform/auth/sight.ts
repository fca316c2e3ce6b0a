import type { Caller } from './permit.js';

/** For whom something is shown: whether they may see what silent rules found. */
export interface Sight {
  readonly silent: boolean;
}

export const sightOf = ({ permissions }: Pick<Caller, 'permissions'>): Sight => ({
  silent: permissions.includes('policies.silent'),
});
