import { format, formatDistanceStrict, isSameDay, isSameYear } from 'date-fns';

/** A time as short as its distance allows, in the reader's zone. */
export function shortTime(iso: string, now: Date): string {
  const at = new Date(iso);
  if (isSameDay(at, now)) return format(at, 'HH:mm');
  return format(at, isSameYear(at, now) ? 'd MMM HH:mm' : 'd MMM yyyy');
}

/** The exact instant, for a title. */
export function exactTime(iso: string): string {
  return `${format(new Date(iso), 'EEEE d MMMM yyyy, HH:mm:ss.SSS xxx')} (${iso})`;
}

/** Hours, minutes and seconds, in the reader's zone. */
export function clockTime(iso: string): string {
  return format(new Date(iso), 'HH:mm:ss');
}

export function ago(iso: string, now: Date): string {
  return formatDistanceStrict(new Date(iso), now, { addSuffix: true });
}

/** The day of an instant, with the name of its month. */
export function dayOf(iso: string): string {
  return format(new Date(iso), 'd MMMM yyyy');
}

/** Minutes as people say them. */
export function spanWords(minutes: number): string {
  if (minutes % 1_440 === 0) return minutes === 1_440 ? 'a day' : `${minutes / 1_440} days`;
  if (minutes % 60 === 0) return minutes === 60 ? 'an hour' : `${minutes / 60} hours`;
  return minutes === 1 ? 'a minute' : `${minutes} minutes`;
}
