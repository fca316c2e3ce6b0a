import { agePoints, dueAt, USUAL_HOURS, workedBetween, type WorkingHours } from './promise.js';

const at = (text: string): number => Date.parse(text);
const hours = (more: Partial<WorkingHours> = {}): WorkingHours => ({ ...USUAL_HOURS, ...more });

describe('dueAt', () => {
  it.each<[string, string, number, WorkingHours, string | null]>([
    ['within a day', '2026-11-30T09:00Z', 4, hours(), '2026-11-30T13:00Z'],
    ['over the night', '2026-11-30T16:00Z', 4, hours(), '2026-12-01T10:00Z'],
    ['over the weekend', '2026-11-27T17:00Z', 2, hours(), '2026-11-30T09:00Z'],
    ['from the night on', '2026-11-30T03:00Z', 1, hours(), '2026-11-30T09:00Z'],
    ['over a closed day', '2026-12-24T17:00Z', 2, hours({ closed: ['2026-12-25'] }), '2026-12-28T09:00Z'],
    ['in a zone west', '2026-11-30T10:00Z', 1, hours({ zone: 'America/New_York' }), '2026-11-30T14:00Z'],
    // The clocks of Berlin go back at 01:00 UTC on 25 October 2026: Monday opens at 07:00 UTC, Friday at 06:00.
    [
      'over a change of clocks',
      '2026-10-23T15:00Z',
      2,
      hours({ zone: 'Europe/Berlin' }),
      '2026-10-26T08:00Z',
    ],
    ['never, without days', '2026-11-30T10:00Z', 1, hours({ days: [] }), null],
    [
      'never, where it closes before it opens',
      '2026-11-30T10:00Z',
      1,
      hours({ from: '18:00', to: '08:00' }),
      null,
    ],
  ])('%s', (_name, from, count, calendar, due) => {
    expect(dueAt(at(from), count, calendar)).toBe(due === null ? null : at(due));
  });

  it('agrees with the working time that has passed', () => {
    const calendar = hours({ zone: 'Australia/Lord_Howe', days: [1, 2, 3, 6], from: '07:30', to: '15:15' });
    for (let step = 0; step < 60; step += 1) {
      const from = at('2026-03-20T00:00Z') + step * 7_777_777;
      const due = dueAt(from, 11.5, calendar);
      expect(workedBetween(from, due ?? 0, calendar)).toBe(11.5 * 3_600_000);
    }
  });
});

it('gives points of age in steps and says when the next one comes', () => {
  expect(agePoints(0, 100, 10)).toEqual({ points: 0, nextAt: 50 });
  expect(agePoints(0, 100, 50)).toEqual({ points: 4, nextAt: 100 });
  expect(agePoints(0, 100, 120)).toEqual({ points: 8, nextAt: 200 });
  expect(agePoints(0, 100, 1e6)).toEqual({ points: 12, nextAt: null });
});
