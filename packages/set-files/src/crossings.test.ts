import { AUTOMATIONS, CROSSINGS } from '@lantern/demo';
import { shapeFault } from '@lantern/contracts';
import { readCrossings, writeCrossings } from './crossings.js';

describe('services, workspaces and sets as a file', () => {
  it('are the same after writing and reading, byte for byte and thing for thing', () => {
    const text = writeCrossings(CROSSINGS);
    const read = readCrossings(text);
    expect(read.status).toBe('read');
    if (read.status !== 'read') return;
    expect(writeCrossings(read.crossings)).toBe(text);
    expect(read.crossings.sets.find(({ id }) => id === 'hull')).toEqual(CROSSINGS.sets[0]);
    expect(new Set(read.crossings.services)).toEqual(new Set(CROSSINGS.services));
  });

  it('take the documents of the demo for what they are', () =>
    expect(AUTOMATIONS.map((each) => shapeFault('automation', structuredClone(each)))).toEqual(
      AUTOMATIONS.map(() => undefined),
    ));

  it.each([
    ['sets: [', 1, /./u],
    ['- a', 1, /must hold fields/u],
    ['format: other', 1, /format/u],
    ['format: uncut-lantern crossings 1\nsets:\n  - id: a\n    name: A\n    later: x\n', 3, /sets\.0/u],
    [
      'format: uncut-lantern crossings 1\nworkspaces:\n  - {id: a, name: A, kind: live}\n  - {id: a, name: B, kind: live}\n',
      4,
      /another one/u,
    ],
  ])('say what is wrong, and where: %#', (text, line, message) => {
    const read = readCrossings(text);
    expect(read).toMatchObject({ status: 'faulty', faults: [{ path: 'crossings.yaml' }] });
    if (read.status !== 'faulty') return;
    expect(Math.abs((read.faults[0]?.line ?? 0) - line)).toBeLessThanOrEqual(2);
    expect(read.faults[0]?.message).toMatch(message);
  });
});
