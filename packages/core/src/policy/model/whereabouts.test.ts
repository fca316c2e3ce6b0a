import { mailOf } from '@lantern/testkit';
import type { InspectedMovement } from '../../movement/movement.js';
import { EVERYWHERE, isThere, type WhereTerm } from './whereabouts.js';

const machine = { name: 'QUAY-7', state: 'looked-after', groups: ['Desks'] } as const;
const at = (over: Partial<InspectedMovement>) => mailOf([], [], over);
const term = (value: WhereTerm) => ({ with: [value], without: [] });

describe('where a policy is for', () => {
  it('is everywhere, with or without a machine, where nothing is named', () => {
    expect(isThere(EVERYWHERE, at({}))).toBe(true);
    expect(isThere(EVERYWHERE, at({ machine }))).toBe(true);
  });

  it.each<[string, WhereTerm, Partial<InspectedMovement>, boolean]>([
    ['its machine', { kind: 'machine', machine: 'quay-7' }, { machine }, true],
    ['another machine', { kind: 'machine', machine: 'QUAY-8' }, { machine }, false],
    ['no machine that is known', { kind: 'machine', machine: 'QUAY-7' }, {}, false],
    ['a group of machines', { kind: 'machines', group: 'desks' }, { machine }, true],
    [
      'a place it is taken from',
      { kind: 'place', path: '/Crew' },
      { from: [{ kind: 'place', path: '/Crew/A' }] },
      true,
    ],
    [
      'a place it is put into',
      { kind: 'place', path: '/Crew' },
      { into: [{ kind: 'place', path: '/Crew/A' }] },
      true,
    ],
    [
      'another place',
      { kind: 'place', path: '/Crew' },
      { into: [{ kind: 'place', path: '/Crewing' }] },
      false,
    ],
  ])('%s', (_what, value, over, expected) => expect(isThere(term(value), at(over))).toBe(expected));

  it('leaves out before it takes in', () => {
    const where = {
      with: [{ kind: 'machines', group: 'Desks' }],
      without: [{ kind: 'machine', machine: 'QUAY-7' }],
    } as const;
    expect(isThere(where, at({ machine }))).toBe(false);
    expect(isThere(where, at({ machine: { ...machine, name: 'QUAY-9' } }))).toBe(true);
  });
});
