/** Whether text is a day of the calendar (ISO 8601). */
export function isDay(text: string): boolean {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false;
  const at = Date.parse(`${text}T00:00:00Z`);
  return !Number.isNaN(at) && new Date(at).toISOString().startsWith(text);
}

/** Whether `day` (ISO 8601) lies wholly before the instant `at`, in UTC. */
export function isOver(day: string, at: number): boolean {
  return at >= Date.parse(`${day.slice(0, 10)}T00:00:00Z`) + 86_400_000;
}
