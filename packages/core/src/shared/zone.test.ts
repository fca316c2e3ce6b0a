import { instantOf, localDay, offsetAt } from './zone.js';

const HOUR_MS = 3_600_000;

// Rules of the IANA time zone database, from memory: the European Union changes at 01:00 UTC, Lord Howe by half an hour.
it.each([
  ['Europe/Berlin', '2026-03-29T00:59:59Z', 1],
  ['Europe/Berlin', '2026-03-29T01:00:00Z', 2],
  ['Europe/Berlin', '2026-10-25T00:59:59Z', 2],
  ['Europe/Berlin', '2026-10-25T01:00:00Z', 1],
  ['Australia/Lord_Howe', '2026-04-04T14:59:59Z', 11],
  ['Australia/Lord_Howe', '2026-04-04T15:00:00Z', 10.5],
  ['Asia/Kathmandu', '2026-06-01T00:00:00Z', 5.75],
  ['UTC', '1969-12-31T23:59:59Z', 0],
])('the clock of %s at %s is %s hours ahead, asked once or again', (zone, at, hours) => {
  for (let time = 0; time < 2; time += 1) expect(offsetAt(Date.parse(at), zone)).toBe(hours * HOUR_MS);
});

it('is the same as the platform says at every minute around a change', () => {
  const shown = new Intl.DateTimeFormat('en-US', {
    timeZone: 'America/St_Johns',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  });
  const change = Date.parse('2026-03-08T05:30:00Z');
  for (let minute = -40; minute <= 40; minute += 1) {
    const at = change + minute * 60_000;
    const local = new Date(at + offsetAt(at, 'America/St_Johns'));
    expect(local.toISOString().slice(11, 16)).toBe(shown.format(at));
  }
});

it('knows the day and the instant on both sides of a gap', () => {
  const day = localDay(Date.parse('2026-03-29T10:00:00Z'), 'Europe/Berlin');
  expect(new Date(day).toISOString()).toBe('2026-03-29T00:00:00.000Z');
  // 02:30 is leapt over: as far behind the leap.
  expect(new Date(instantOf(day, 150, 'Europe/Berlin')).toISOString()).toBe('2026-03-29T01:30:00.000Z');
});

it('refuses a zone that does not exist', () => {
  expect(() => offsetAt(Date.parse('2026-01-01T00:00:00Z'), 'Sea/Nowhere')).toThrow(RangeError);
});
