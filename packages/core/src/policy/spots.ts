import { isUnder } from '../people/address.js';
import { assertNever } from '../shared/assert-never.js';
import { isLike } from './like.js';
import type { SpotGroup, SpotGroupId } from './rule.js';

/** Things that data can be carried away with. */
export const DEVICE_KINDS = [
  'plugged-in',
  'printer',
  'disc',
  'other-machine',
  'screen-picture',
  /** The machine from which somebody uses this one: its clipboard and its drives take things out of the session. */
  'session-end',
] as const;
export type DeviceKind = (typeof DEVICE_KINDS)[number];

/** Where data is taken from or put, beside people. */
export type Spot =
  | { readonly kind: 'application'; readonly name: string }
  | { readonly kind: 'host'; readonly host: string }
  | { readonly kind: 'device'; readonly device: DeviceKind; readonly name: string; readonly trusted: boolean }
  /** Folders from the outermost, divided by `/`. */
  | { readonly kind: 'place'; readonly path: string };
export const SPOT_KINDS = ['application', 'host', 'device', 'place'] as const;

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

/** Whether a path is a place or lies in it: `/Crew lists` does not lie in `/Crew`. Capitals do not matter. */
export function isWithin(path: string, place: string): boolean {
  const steps = stepsOf(path);
  return stepsOf(place).every((step, at) => steps[at] === step);
}

const stepsOf = (path: string): string[] => path.toLowerCase().split('/').filter(Boolean);

/** What a spot is called. */
export function spotName(spot: Spot): string {
  switch (spot.kind) {
    case 'application':
      return spot.name;
    case 'host':
      return spot.host;
    case 'device':
      return spot.name;
    case 'place':
      return spot.path;
    default:
      return assertNever(spot);
  }
}
