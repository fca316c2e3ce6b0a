import type { Evidence, UrgencyPart } from '@lantern/core';
import { assertNever } from '@lantern/core';

/** What one piece of evidence says, without its weight. */
export function evidenceWords(evidence: Evidence): string {
  const quoted = evidence.detail ? ` "${evidence.detail}"` : '';
  switch (evidence.code) {
    case 'shape':
      return 'looks like many other numbers';
    case 'structure':
      return 'range and length fit';
    case 'check-digits':
      return `check digits hold (${evidence.detail ?? ''})`;
    case 'grouping':
      return 'written in its usual groups';
    case 'supporting-word':
      return `word${quoted} near it${distanceWords(evidence.distance)}`;
    case 'counter-word':
      return `word${quoted} speaks against it`;
    case 'column-heading':
      return `column heading${quoted}`;
    case 'neighbours':
      return evidence.weight > 0
        ? `${evidence.detail ?? ''} neighbours of the same shape`
        : `most of ${evidence.detail ?? ''} neighbours fail the check`;
    case 'test-value':
      return 'a published test number';
    case 'inside-longer-code':
      return 'part of a longer code or address';
    case 'listed-word':
      return `listed word${quoted}`;
    default:
      return assertNever(evidence.code);
  }
}

function distanceWords(distance: number | undefined): string {
  return distance === undefined || distance < 4 ? '' : `, ${distance} characters off`;
}

export function weightWords(weight: number): string {
  return `${weight >= 0 ? '+' : '−'}${Math.abs(weight).toFixed(1)}`;
}

export const URGENCY_WORDS: Readonly<Record<UrgencyPart, string>> = {
  severity: 'severity',
  'went-on': 'it already left',
  volume: 'how much it holds',
  'outside-recipients': 'recipients outside',
  unreadable: 'parts that could not be read',
};
