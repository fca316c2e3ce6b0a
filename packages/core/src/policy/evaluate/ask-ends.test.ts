import { askEnds } from './ask-ends.js';
import type { Channel } from '../../movement/movement.js';
import type { AskTerms } from '../model/rule.js';

const terms = (minutes: number, time?: string, zone = 'Europe/Oslo'): AskTerms => ({
  reasons: [],
  minutes,
  otherwise: 'stays',
  ...(time === undefined ? {} : { closes: { time, zone } }),
});
const ends = (asked: AskTerms, at: string, channel: Channel = 'mail'): string =>
  new Date(askEnds(asked, channel, Date.parse(at))).toISOString();

// Offsets by the IANA time zone database: Oslo is at UTC+1 in winter and UTC+2 from 28 March to 31 October 2027.
describe('when a question ends', () => {
  it.each<[string, AskTerms, string, string]>([
    ['after its minutes', terms(30), '2026-11-26T10:00:20Z', '2026-11-26T10:30:20.000Z'],
    ['at its time of day', terms(30, '17:00'), '2026-11-26T10:00:00Z', '2026-11-26T16:00:00.000Z'],
    [
      'at the time of the next day, where today leaves too little',
      terms(30, '17:00'),
      '2026-11-26T15:45:00Z',
      '2026-11-27T16:00:00.000Z',
    ],
    [
      'at once where the minutes end on it',
      terms(30, '17:00'),
      '2026-11-26T15:30:00Z',
      '2026-11-26T16:00:00.000Z',
    ],
    [
      'a day later where they end seconds after it',
      terms(30, '17:00'),
      '2026-11-26T15:30:20Z',
      '2026-11-27T16:00:00.000Z',
    ],
    ['in its zone', terms(5, '09:00', 'Asia/Tokyo'), '2026-11-26T10:00:00Z', '2026-11-27T00:00:00.000Z'],
    ['at midnight', terms(5, '24:00'), '2026-11-26T10:00:00Z', '2026-11-26T23:00:00.000Z'],
    [
      'over the night on which clocks go on',
      terms(5, '09:00'),
      '2027-03-27T20:00:00Z',
      '2027-03-28T07:00:00.000Z',
    ],
    [
      'over the night on which clocks go back',
      terms(5, '09:00'),
      '2027-10-30T20:00:00Z',
      '2027-10-31T08:00:00.000Z',
    ],
    [
      'after its minutes where the time is none',
      terms(30, 'noon'),
      '2026-11-26T10:00:00Z',
      '2026-11-26T10:30:00.000Z',
    ],
  ])('%s', (_what, asked, at, end) => expect(ends(asked, at)).toBe(end));

  it('in a page after its minutes, whatever the time of day', () => {
    expect(ends(terms(5, '17:00'), '2026-11-26T10:00:00Z', 'browser')).toBe('2026-11-26T10:05:00.000Z');
    for (const channel of ['chat', 'drive', 'endpoint'] as const)
      expect(ends(terms(5, '17:00'), '2026-11-26T10:00:00Z', channel)).toBe('2026-11-26T16:00:00.000Z');
  });

  it('never sooner than its minutes, and within a day and an hour of them', () => {
    for (let minute = 0; minute < 24 * 60; minute += 7) {
      const at = Date.parse('2026-11-26T00:00:00Z') + minute * 60_000;
      const least = at + 20 * 60_000;
      const end = askEnds(terms(20, '12:30'), 'mail', at);
      expect(end).toBeGreaterThanOrEqual(least);
      expect(end - least).toBeLessThan(24 * 3_600_000);
    }
  });
});
