const DAY_MS = 86_400_000;
const MINUTE_MS = 60_000;

/** The date in a zone, as the UTC midnight with the same numbers. */
export function localDay(at: number, zone: string): number {
  return Math.floor((at + offsetAt(at, zone)) / DAY_MS) * DAY_MS;
}

/** Instant at which a zone's clock shows `minutes` on a date; in a gap of the clock, as far after it. */
export function instantOf(day: number, minutes: number, zone: string): number {
  const shown = day + minutes * MINUTE_MS;
  const first = shown - offsetAt(shown, zone);
  return shown - offsetAt(first, zone);
}

const formats = new Map<string, Intl.DateTimeFormat>();
/** Clocks change at a quarter of an hour at the finest, since 1972 at the latest (IANA time zone database). */
const SLOT_MS = 15 * MINUTE_MS;
const SLOTS_SINCE = Date.UTC(1973, 0, 1);
const MOST_SLOTS = 20_000;
const slots = new Map<string, number>();

/** Milliseconds that a zone's clock is ahead of UTC at an instant. Throws `RangeError` for a zone that does not exist. */
export function offsetAt(at: number, zone: string): number {
  if (at < SLOTS_SINCE) return workedOut(at, zone);
  const slot = `${Math.floor(at / SLOT_MS)} ${zone}`;
  const known = slots.get(slot);
  if (known !== undefined) return known;
  if (slots.size >= MOST_SLOTS) slots.clear();
  const offset = workedOut(at, zone);
  slots.set(slot, offset);
  return offset;
}

function workedOut(at: number, zone: string): number {
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-US', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    });
    formats.set(zone, format);
  }
  const parts = new Map(format.formatToParts(at).map(({ type, value }) => [type, Number(value)]));
  const part = (type: Intl.DateTimeFormatPartTypes) => parts.get(type) ?? 0;
  const shown = Date.UTC(
    part('year'),
    part('month') - 1,
    part('day'),
    part('hour'),
    part('minute'),
    part('second'),
  );
  return shown - Math.floor(at / 1000) * 1000;
}

/** Names that were asked about; making a format for each of many people takes seconds. */
const asked = new Map<string, boolean>();
/** The IANA database has some 600 names; what strangers make up beyond is not remembered. */
const MOST_ASKED = 2_000;

/** Whether the running engine knows a zone of the IANA database by this name. */
export function isZone(zone: string): boolean {
  const known = asked.get(zone);
  if (known !== undefined) return known;
  const is = canFormat(zone);
  if (asked.size < MOST_ASKED) asked.set(zone, is);
  return is;
}

function canFormat(zone: string): boolean {
  try {
    return zone !== '' && new Intl.DateTimeFormat('en-GB', { timeZone: zone }).format(0) !== '';
  } catch {
    return false;
  }
}
