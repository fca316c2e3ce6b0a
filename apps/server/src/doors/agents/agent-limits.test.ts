import { demandAllowed, speaksFor } from './agent-limits.js';

const FLEET = { with: [{ kind: 'department' as const, department: 'Fleet' }], without: [] };
const now = new Date('2026-03-04T12:00:00Z');
const hoursAgo = (hours: number) => new Date(now.getTime() - hours * 3_600_000);

describe('limits of an agent', () => {
  const allowed = (limits: Parameters<typeof demandAllowed>[0], department: string, hours: number) => () =>
    demandAllowed(limits, { person: { address: 'a@b.example', department }, at: hoursAgo(hours), now });

  it.each([
    ['no limits', { people: null, hoursBack: null }, 'Fleet', 90_000, null],
    ['its own people', { people: FLEET, hoursBack: null }, 'Fleet', 1, null],
    ['other people', { people: FLEET, hoursBack: null }, 'Crewing', 1, /this person/],
    ['a movement at the edge of its time', { people: null, hoursBack: 2 }, 'Fleet', 2, null],
    ['an older movement', { people: null, hoursBack: 2 }, 'Fleet', 2.1, /last 2 hours/],
  ])('with %s', (_what, limits, department, hours, refusal) => {
    const trying = allowed(limits, department, hours);
    if (refusal) expect(trying).toThrow(refusal);
    else expect(trying).not.toThrow();
  });

  it('name nobody whom the directory does not know, unless they are for everybody', () => {
    const stranger = { address: 'x@elsewhere.example' };
    expect([speaksFor({ people: FLEET }, stranger), speaksFor({ people: null }, stranger)]).toEqual([
      false,
      true,
    ]);
  });
});
