import { targetsOf } from './targets.js';

const isOutside = (domain: string): boolean => domain !== 'own.example' && !domain.endsWith('.own.example');

describe('targets as recipients', () => {
  it.each([
    [
      { kind: 'host', host: 'Up.Other.example' },
      { address: 'up.other.example', outside: true },
    ],
    [
      { kind: 'host', host: 'wiki.own.example' },
      { address: 'wiki.own.example', outside: false },
    ],
    [
      { kind: 'device', device: 'plugged-in', name: 'Stick', trusted: false },
      { address: 'Stick', outside: true },
    ],
    [
      { kind: 'device', device: 'printer', name: 'Office', trusted: true },
      { address: 'Office', outside: false },
    ],
  ] as const)('%j is %j', (spot, recipient) =>
    expect(targetsOf({ into: [spot] }, isOutside)).toEqual([recipient]),
  );

  it('are no programs and places: those are where data stays', () =>
    expect(
      targetsOf(
        {
          into: [
            { kind: 'application', name: 'Notes' },
            { kind: 'place', path: '/Crew' },
          ],
        },
        isOutside,
      ),
    ).toEqual([]));

  it.each([
    ['only-named', []],
    ['whole-house', [false]],
    ['whoever-holds-it', [true]],
  ] as const)('a link for %s opens outside: %j', (link, outside) =>
    expect(targetsOf({ link }, isOutside).map((each) => each.outside)).toEqual(outside),
  );
});
