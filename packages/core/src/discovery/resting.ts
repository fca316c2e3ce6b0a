/** Hours of a day in which a machine may be read, by its own clock: "HH:MM". Past midnight where `to` is before `from`. */
export interface WorkingHours {
  readonly from: string;
  readonly to: string;
}

export const CLOCK = /^(?:[01]\d|2[0-3]):[0-5]\d$/u;

/** Why a reader rests: outside its hours, or on a battery that is low. */
export type Rest = 'hours' | 'battery';

/** A battery that a machine runs on; null where it is plugged in, or has none. Percent of its charge. */
export type Battery = number | null;

/**
 * Whether a reader rests now, and why. `minute` is the minute of the day by the clock of the machine. Equal hours are the
 * whole day.
 */
export function restOf(
  limits: { readonly hours: WorkingHours | null; readonly batteryAbove: number | null },
  minute: number,
  battery: Battery,
): Rest | null {
  if (limits.hours && !isWithin(limits.hours, minute)) return 'hours';
  return limits.batteryAbove !== null && battery !== null && battery < limits.batteryAbove ? 'battery' : null;
}

function isWithin({ from, to }: WorkingHours, minute: number): boolean {
  const [begins, ends] = [minuteOf(from), minuteOf(to)];
  if (begins === ends) return true;
  return begins < ends ? minute >= begins && minute < ends : minute >= begins || minute < ends;
}

/** "18:30" as a minute of the day. */
function minuteOf(clock: string): number {
  return Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));
}
