import { type Answer, type Severity, SEVERITIES } from '../policy/model/answers.js';

export type UrgencyPart = 'severity' | 'went-on' | 'volume' | 'outside-recipients' | 'unreadable' | 'age';

/** Urgency from 0 to 100 with the parts it is the sum of, so that the order of the queue can be argued with. */
export interface Urgency {
  readonly total: number;
  readonly parts: readonly { readonly code: UrgencyPart; readonly points: number }[];
}

/** Points by severity, least first. What needs a person soonest comes from judgement: common practice, no source. */
const SEVERITY_POINTS: readonly number[] = [10, 25, 45, 60];
/** Data that already left is more pressing than data that was stopped. */
const WENT_ON_POINTS = 18;
/** Points a tenfold number of distinct values adds, and the most it can add. */
const VOLUME = { perTenfold: 6, most: 16 };
const OUTSIDE_POINTS = { perTenfold: 4, most: 4, any: 2 };
const UNREADABLE_POINTS = 4;

/** Facts that urgency is computed from. */
export interface UrgencyFacts {
  readonly severity: Severity;
  /** Null where nobody knows whether it was let go. */
  readonly answer: Answer | null;
  readonly distinctValues: number;
  readonly outsideRecipients: number;
  readonly unreadableParts: number;
}

export function urgencyOf(facts: UrgencyFacts): Urgency {
  const parts: { code: UrgencyPart; points: number }[] = [
    { code: 'severity', points: SEVERITY_POINTS[SEVERITIES.indexOf(facts.severity)] ?? 0 },
  ];
  const add = (code: UrgencyPart, points: number) => {
    if (points > 0) parts.push({ code, points });
  };
  if (facts.answer === 'note' || facts.answer === 'advise') add('went-on', WENT_ON_POINTS);
  if (facts.distinctValues > 1) {
    add('volume', Math.min(VOLUME.most, Math.round(Math.log10(facts.distinctValues) * VOLUME.perTenfold)));
  }
  if (facts.outsideRecipients > 0) {
    const more = Math.round(Math.log10(facts.outsideRecipients) * OUTSIDE_POINTS.perTenfold);
    add('outside-recipients', OUTSIDE_POINTS.any + Math.min(OUTSIDE_POINTS.most, more));
  }
  if (facts.unreadableParts > 0) add('unreadable', UNREADABLE_POINTS);
  return summed(parts);
}

/** The same urgency for another severity. */
export function withSeverity(urgency: Urgency, severity: Severity): Urgency {
  const points = SEVERITY_POINTS[SEVERITIES.indexOf(severity)] ?? 0;
  const parts = urgency.parts.map((part) => (part.code === 'severity' ? { ...part, points } : part));
  return summed(parts);
}

/** The same urgency with other points of age. */
export function withAge(urgency: Urgency, points: number): Urgency {
  const parts = urgency.parts.filter(({ code }) => code !== 'age');
  return summed(points > 0 ? [...parts, { code: 'age', points }] : parts);
}

function summed(parts: Urgency['parts']): Urgency {
  return {
    total: Math.min(
      100,
      parts.reduce((sum, part) => sum + part.points, 0),
    ),
    parts,
  };
}
