import { isOneOf, type SpotTerm } from './spots.js';
import { isWithin, type Spot } from '../../movement/location.js';
import type { SpotGroup, SpotGroupId } from './spots.js';

const group: SpotGroup = {
  id: 'g' as SpotGroupId,
  name: 'Ours',
  why: '',
  spots: [{ kind: 'application', name: 'Manifest *' }],
};
const host = (name: string): Spot => ({ kind: 'host', host: name });
const hostTerm = (name: string, under: boolean): SpotTerm => ({ kind: 'host', host: name, under });
const stick = (trusted: boolean, name = 'Blue stick'): Spot => ({
  kind: 'device',
  device: 'plugged-in',
  name,
  trusted,
});
const device = (over: Partial<SpotTerm & { kind: 'device' }>): SpotTerm => ({
  kind: 'device',
  device: 'plugged-in',
  name: '',
  trusted: null,
  ...over,
});

describe('whether a spot is meant', () => {
  it.each<[string, Spot, SpotTerm, boolean]>([
    [
      'an application by its name',
      { kind: 'application', name: 'BOOKING' },
      { kind: 'application', name: 'booking' },
      true,
    ],
    [
      'another application',
      { kind: 'application', name: 'Bookings' },
      { kind: 'application', name: 'booking' },
      false,
    ],
    // Common practice, no source: this host and all under it, never one that merely ends in the same letters.
    ['a host', host('Up.Example'), hostTerm('up.example', false), true],
    ['a host under it, where all under it count', host('a.up.example'), hostTerm('up.example', true), true],
    ['a host under it, where it alone counts', host('a.up.example'), hostTerm('up.example', false), false],
    ['a host that ends in the same letters', host('evilup.example'), hostTerm('up.example', true), false],
    ['a device of the kind', stick(false), device({}), true],
    ['a device of another kind', stick(false), device({ device: 'printer' }), false],
    [
      'the far end of a remote session',
      { kind: 'device', device: 'session-end', name: 'Computer at home', trusted: false },
      device({ device: 'session-end', trusted: false }),
      true,
    ],
    [
      'a share of another machine where the far end of a session is asked for',
      { kind: 'device', device: 'other-machine', name: '', trusted: false },
      device({ device: 'session-end' }),
      false,
    ],
    ['a trusted device where strange ones are asked for', stick(true), device({ trusted: false }), false],
    ['a device by name', stick(true), device({ name: 'blue*' }), true],
    ['a device by another name', stick(true), device({ name: 'red*' }), false],
    [
      'a place within',
      { kind: 'place', path: '/Crew/Lists/2026' },
      { kind: 'place', path: 'crew/lists/' },
      true,
    ],
    [
      'a member of a group',
      { kind: 'application', name: 'Manifest editor' },
      { kind: 'spots', called: group.id },
      true,
    ],
    [
      'no member of a group',
      { kind: 'application', name: 'Chat' },
      { kind: 'spots', called: group.id },
      false,
    ],
    [
      'a group that is gone',
      { kind: 'application', name: 'Chat' },
      { kind: 'spots', called: 'x' as SpotGroupId },
      false,
    ],
    [
      'a host where an application is named',
      host('booking'),
      { kind: 'application', name: 'booking' },
      false,
    ],
  ])('%s', (_what, spot, term, expected) => expect(isOneOf(spot, [term], [group])).toBe(expected));
});

describe('whether a path lies in a place', () => {
  it.each([
    ['/Crew', '/Crew', true],
    ['/Crew lists', '/Crew', false],
    ['/crew/A', '/CREW', true],
    ['/Crew', '/Crew/A', false],
    ['/Crew', '/', true],
  ])('%p in %p: %p', (path, place, expected) => expect(isWithin(path, place)).toBe(expected));
});
