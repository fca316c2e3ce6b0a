/** A stretch of time, as instants (RFC 3339). */
export interface Span {
  readonly from: string;
  readonly to: string;
}

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;

/** Stretches around an incident: as long before it as after it, but not beyond now. */
export const SPANS = {
  minutes: { words: '20 minutes', ms: HOUR_MS / 3 },
  hours: { words: '4 hours', ms: 4 * HOUR_MS },
  day: { words: '1 day', ms: DAY_MS },
  week: { words: '1 week', ms: 7 * DAY_MS },
  month: { words: '30 days', ms: 30 * DAY_MS },
  quarter: { words: '12 weeks', ms: 84 * DAY_MS },
  year: { words: '1 year', ms: 365 * DAY_MS },
} as const;

/** Shortest stretch that a zoom leads to. */
const SHORTEST_MS = 60_000;

/** The stretch of a length around an instant; what would lie after `now` is looked at before instead. */
export function spanAround(at: string, length: keyof typeof SPANS, now: number): Span {
  const { ms } = SPANS[length];
  const end = Math.min(Date.parse(at) + ms / 2, Math.max(now, Date.parse(at)) + SHORTEST_MS);
  return { from: new Date(end - ms).toISOString(), to: new Date(end).toISOString() };
}

/** The part of a stretch between two hundredths of it, a minute at least. */
export function zoomed({ from, to }: Span, start: number, end: number): Span {
  const [first, last] = [Date.parse(from), Date.parse(to)];
  const left = first + ((last - first) * start) / 100;
  const right = Math.max(left + SHORTEST_MS, first + ((last - first) * end) / 100);
  return { from: new Date(left).toISOString(), to: new Date(right).toISOString() };
}
