import type { ReplayView } from '@lantern/contracts';
import { type Shift, type ShiftCounts, SHIFTS } from '@lantern/core/insight';

/** Shifts that change something for somebody. */
export const CHANGES = SHIFTS.filter((shift): shift is Exclude<Shift, 'same'> => shift !== 'same');

/** Groups in which something changes, the most changes first. */
export function changedGroups(
  groups: Readonly<Record<string, ShiftCounts>>,
): readonly (readonly [string, ShiftCounts])[] {
  const changes = (counts: ShiftCounts): number => CHANGES.reduce((sum, shift) => sum + counts[shift], 0);
  return Object.entries(groups)
    .filter(([, counts]) => changes(counts) > 0)
    .sort(([, left], [, right]) => changes(right) - changes(left));
}

/** How far a replay is, 0 to 1; an empty one is done. */
export function progressOf({ judged, total }: Pick<ReplayView, 'judged' | 'total'>): number {
  return total === 0 ? 1 : Math.min(1, judged / total);
}

/** Seconds that are left at the pace so far, or null before there is a pace. */
export function secondsLeft({
  judged,
  total,
  seconds,
}: Pick<ReplayView, 'judged' | 'total' | 'seconds'>): number | null {
  return judged === 0 ? null : Math.ceil(((total - judged) * seconds) / judged);
}

/** People a day, with one digit behind the point where it is small. */
export function perDay(value: number): string {
  return value >= 10 || Number.isInteger(value) ? String(Math.round(value)) : value.toFixed(1);
}

/** The day `days` before an instant, as a date field has it. */
export function dayBefore(now: Date, days: number): string {
  return new Date(now.getTime() - days * 86_400_000).toISOString().slice(0, 10);
}

/** A period of whole days as a request has it: the last day counts whole. */
export function periodOf(
  since: string,
  until: string,
): { readonly since: string; readonly until: string } | null {
  const [from, to] = [Date.parse(`${since}T00:00:00Z`), Date.parse(`${until}T00:00:00Z`)];
  if (Number.isNaN(from) || Number.isNaN(to) || to < from) return null;
  return { since: new Date(from).toISOString(), until: new Date(to + 86_400_000).toISOString() };
}
