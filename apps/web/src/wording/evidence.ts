import type { Evidence, UrgencyPart } from '@lantern/core';
import { assertNever } from '@lantern/core';

/** What one piece of evidence says, without its weight. */
export function evidenceWords(evidence: Evidence): string {
  const quoted = evidence.detail ? ` "${evidence.detail}"` : '';
  const off = distanceWords(evidence.distance);
  switch (evidence.code) {
    case 'shape':
      return 'many other things look like it';
    case 'own-expression':
      return 'what the own expression says of it by itself';
    case 'record':
      return `one of the records, by its ${evidence.detail ?? 'key'}`;
    case 'listed-others':
      return `${evidence.detail ?? ''} more words of the list in the same text`;
    case 'structure':
      return 'dates, ranges and lists inside it fit';
    case 'check-digits':
      return 'its check digits hold';
    case 'usual-check':
      return evidence.weight > 0
        ? 'the check that most of them pass holds'
        : 'the check that most of them pass fails';
    case 'grouping':
      return 'written in its usual groups';
    case 'naming-word':
      return `its name${quoted} stands near${off}`;
    case 'field-name':
      return `its field is called${quoted}`;
    case 'supporting-word':
      return `word${quoted} of its subject near it${off}`;
    case 'counter-word':
      return `word${quoted} speaks against it${off}`;
    case 'column-heading':
      return `column heading${quoted}`;
    case 'neighbours':
      return evidence.weight > 0
        ? `${evidence.detail ?? ''} neighbours of the same shape`
        : `most of ${evidence.detail ?? ''} neighbours fail the check`;
    case 'test-value':
      return 'a published test value';
    case 'inside-longer-code':
      return 'part of a longer code';
    case 'inside-address':
      return 'part of the address of a page';
    case 'broken-over-lines':
      return 'a line break stands inside it';
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
