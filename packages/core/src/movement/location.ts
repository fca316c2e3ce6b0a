import { assertNever } from '../shared/assert-never.js';

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
