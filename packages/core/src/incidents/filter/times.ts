const UNIT_MS = {
  minute: 60_000,
  hour: 3_600_000,
  day: 86_400_000,
  week: 7 * 86_400_000,
} as const;
const ROLLING = /^(\d{1,5}) (minute|hour|day|week)s? ago$/u;
const INSTANT =
  /^(\d{4})-(\d{2})-(\d{2})(?:T(\d{2}):(\d{2})(?::(\d{2})(\.\d{1,9})?)?(Z|[+-]\d{2}:\d{2})?)?$/u;

/** A point and three digits: what is finer is cut. */
const MILLISECONDS = 4;

/**
 * Milliseconds since 1970 of a time in a filter: an instant (RFC 3339; a date alone is its midnight, UTC), or a rolling
 * one such as `10 days ago`, counted back from `now`. Null for anything else, also for a date that does not exist.
 */
export function timeOf(text: string, now: number): number | null {
  const rolling = ROLLING.exec(text.trim());
  if (rolling) return now - Number(rolling[1]) * UNIT_MS[rolling[2] as keyof typeof UNIT_MS];
  const instant = INSTANT.exec(text.trim());
  if (!instant) return null;
  const [, year, month, day, hour = '00', minute = '00', second = '00', fraction = '', zone = 'Z'] = instant;
  const daysInMonth = new Date(Date.UTC(Number(year), Number(month), 0)).getUTCDate();
  if (Number(month) < 1 || Number(month) > 12 || Number(day) < 1 || Number(day) > daysInMonth) return null;
  const at = Date.parse(
    `${year}-${month}-${day}T${hour}:${minute}:${second}${fraction.slice(0, MILLISECONDS)}${zone}`,
  );
  return Number.isNaN(at) ? null : at;
}
