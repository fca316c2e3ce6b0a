import { isUnder } from '../../directory/address.js';
import { assertNever } from '../../shared/assert-never.js';
import { isLike } from './like.js';
import { type DeviceKind, isWithin, type Spot, SPOT_KINDS } from '../../movement/location.js';
import type { Brand } from '../../shared/brand.js';

export type SpotGroupId = Brand<string, 'SpotGroupId'>;

/** Applications, sites, devices and places under one name, for rules that mean all of them. */
export interface SpotGroup {
  readonly id: SpotGroupId;
  readonly name: string;
  readonly why: string;
  /** No groups among them. */
  readonly spots: readonly SpotTerm[];
}

/** Some spots, as a condition names them. */
export type SpotTerm =
  /** By name, with `*` for any characters. */
  | { readonly kind: 'application'; readonly name: string }
  /** This host, and all under it where `under` says so. */
  | { readonly kind: 'host'; readonly host: string; readonly under: boolean }
  /** Devices of a kind, by name where one is given, trusted or not where that is asked. */
  | {
      readonly kind: 'device';
      readonly device: DeviceKind;
      readonly name: string;
      readonly trusted: boolean | null;
    }
  /** A place and everything in it. */
  | { readonly kind: 'place'; readonly path: string }
  /** Everything that a group of the set names. */
  | { readonly kind: 'spots'; readonly called: SpotGroupId };
export const SPOT_TERM_KINDS = [...SPOT_KINDS, 'spots'] as const;

/** Whether one of the terms means a spot. A group within a group is not read: groups name spots alone. */
export function isOneOf(spot: Spot, terms: readonly SpotTerm[], groups: readonly SpotGroup[]): boolean {
  return terms.some((term) =>
    term.kind === 'spots'
      ? (groups.find(({ id }) => id === term.called)?.spots.some((each) => isThe(spot, each)) ?? false)
      : isThe(spot, term),
  );
}

function isThe(spot: Spot, term: SpotTerm): boolean {
  switch (spot.kind) {
    case 'application':
      return term.kind === 'application' && isLike(spot.name, term.name);
    case 'host':
      return (
        term.kind === 'host' &&
        (term.under
          ? isUnder(spot.host.toLowerCase(), term.host)
          : spot.host.toLowerCase() === term.host.toLowerCase())
      );
    case 'device':
      return (
        term.kind === 'device' &&
        term.device === spot.device &&
        (term.name === '' || isLike(spot.name, term.name)) &&
        (term.trusted === null || term.trusted === spot.trusted)
      );
    case 'place':
      return term.kind === 'place' && isWithin(spot.path, term.path);
    default:
      return assertNever(spot);
  }
}
