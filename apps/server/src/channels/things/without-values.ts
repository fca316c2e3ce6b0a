import { patternsOfRule } from '@lantern/core';
import type { JudgedAttempt } from '../door.service.js';
import { decidingRule } from '../person-notice.js';

/** What stands where a value was. */
const TAKEN_OUT = '[taken out]';

/** A text without the values that the deciding rule asked for, each replaced by a mark. */
export function withoutValues(
  text: string,
  { verdict, set, inspected }: JudgedAttempt,
): { text: string; takenOut: number } {
  const told = decidingRule(verdict, set);
  const patterns = new Set(told ? patternsOfRule(told.rule) : []);
  const [part] = inspected.map((each) => each.part);
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
