import type { JudgedSubmission } from '../submission.js';

/** What stands where a value was. */
const TAKEN_OUT = '[taken out]';

/** A text, which is the `at`th part of what was judged, without the values that its author is told of. */
export function withoutValues(
  text: string,
  { notice, inspected }: Pick<JudgedSubmission, 'notice' | 'inspected'>,
  at = 0,
): { text: string; takenOut: number } {
  const patterns = new Set<string>((notice?.found ?? []).map(({ pattern }) => pattern));
  const part = inspected[at]?.part;
  if (!part || part.status !== 'read') return { text, takenOut: 0 };
  const ranges = part.findings
    .filter(({ pattern }) => patterns.has(pattern))
    .map(({ start, end }) => ({ start: Number(start), end: Number(end) }))
    .sort((left, right) => left.start - right.start);
  let cleaned = '';
  let from = 0;
  let takenOut = 0;
  for (const { start, end } of ranges) {
    if (start < from) continue;
    cleaned += `${text.slice(from, start)}${TAKEN_OUT}`;
    from = end;
    takenOut += 1;
  }
  return { text: cleaned + text.slice(from), takenOut };
}
