import { assertNever } from '../../shared/assert-never.js';
import type { InspectedMovement } from '../../movement/movement.js';
import { isWithin } from '../../movement/location.js';

/** A machine, a group of machines, or a place with everything in it. */
export type WhereTerm =
  | { readonly kind: 'machine'; readonly machine: string }
  | { readonly kind: 'machines'; readonly group: string }
  | { readonly kind: 'place'; readonly path: string };
export const WHERE_KINDS = ['machine', 'machines', 'place'] as const;

/** Where something is for: everywhere where `with` is empty, less what `without` names. */
export interface Whereabouts {
  readonly with: readonly WhereTerm[];
  readonly without: readonly WhereTerm[];
}

export const EVERYWHERE: Whereabouts = { with: [], without: [] };

/** Whether a movement happens there: by its machine, or by a place it is taken from or put into. */
export function isThere(where: Whereabouts, movement: InspectedMovement): boolean {
  if (where.without.some((term) => fits(term, movement))) return false;
  return where.with.length === 0 || where.with.some((term) => fits(term, movement));
}

/** Whether something is for a place with all that lies in it, whatever the machine. */
export function coversPlace({ with: there, without }: Whereabouts, path: string): boolean {
  const names = (term: WhereTerm): boolean => term.kind === 'place' && isWithin(path, term.path);
  if (without.some(names)) return false;
  return there.every(({ kind }) => kind !== 'place') || there.some(names);
}

function fits(term: WhereTerm, { machine, from, into }: InspectedMovement): boolean {
  switch (term.kind) {
    case 'machine':
      return machine !== undefined && same(machine.name, term.machine);
    case 'machines':
      return machine?.groups.some((group) => same(group, term.group)) ?? false;
    case 'place':
      return [...(from ?? []), ...(into ?? [])].some(
        (spot) => spot.kind === 'place' && isWithin(spot.path, term.path),
      );
    default:
      return assertNever(term);
  }
}

const same = (one: string, other: string): boolean => one.toLowerCase() === other.toLowerCase();

/** What a term names. */
export function whereValue(term: WhereTerm): string {
  switch (term.kind) {
    case 'machine':
      return term.machine;
    case 'machines':
      return term.group;
    case 'place':
      return term.path;
    default:
      return assertNever(term);
  }
}
