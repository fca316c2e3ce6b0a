import type { Evidence, EvidenceCode, LookKind } from '@lantern/core/detection';
import type { UrgencyPart } from '@lantern/core/incidents';
import { assertNever } from '@lantern/core/shared';

/** Evidence that is always said with the same words. */
const ALWAYS = {
  shape: 'many other things have this format',
  'own-expression': 'the expression’s own weight',
  structure: 'dates, ranges and lists inside it are valid',
  'check-digits': 'its check digits are valid',
  grouping: 'written in its usual format',
  'test-value': 'a published test value',
  'inside-longer-code': 'part of a longer code',
  'inside-address': 'part of a web address',
  'broken-over-lines': 'contains a line break',
  'unknown-number': 'a number that the library does not know may have this name too',
  category: 'starting point for a text without typical words',
} as const satisfies Partial<Record<EvidenceCode, string>>;

/** What a value looks like. */
const LOOK_WORDS: Readonly<Record<LookKind, string>> = {
  drawn: 'looks chosen or random',
  spoken: 'looks like a word, a number or a reference',
  'telephone-link': 'part of a telephone link',
  grouped: 'written in groups, as people write telephone numbers',
  'digits-alone': 'digits without groups, which many other things have',
  mask: 'a network mask',
  unspecified: 'stands for no address in particular (RFC 6890)',
  loopback: 'the machine’s own address (loopback)',
  multicast: 'a multicast address',
  reserved: 'a reserved address (RFC 6890)',
  documentation: 'from a range reserved for documentation (RFC 5737)',
  private: 'from a private range (RFC 1918), not reachable from outside',
  reachable: 'an address that can be reached from anywhere',
  version: 'looks like the number of a version',
  section: 'looks like the number of a section',
};

const isAlways = (code: EvidenceCode): code is keyof typeof ALWAYS => code in ALWAYS;

/** What one piece of evidence says, without its weight. */
export function evidenceWords(evidence: Evidence): string {
  const quoted = evidence.detail ? ` "${evidence.detail}"` : '';
  const off = distanceWords(evidence.distance);
  const { code } = evidence;
  if (isAlways(code)) return ALWAYS[code];
  switch (code) {
    case 'record':
      return `one of the records, by its ${evidence.detail ?? 'key'}`;
    case 'reappears':
      return `${evidence.detail ?? 'a part of a sample'} reappears in this text`;
    case 'category-word':
      return `word${quoted} as the samples used it`;
    case 'category-others':
      return `${evidence.detail ?? ''} more words, each with little weight`;
    case 'listed-others':
      return `${evidence.detail ?? ''} more words from the list in the same text`;
    case 'usual-check':
      return evidence.weight > 0 ? 'passes the usual check' : 'fails the usual check';
    case 'look':
      return LOOK_WORDS[evidence.detail as LookKind];
    case 'naming-word':
      return `its name${quoted} is near${off}`;
    case 'field-name':
      return `its field is named${quoted}`;
    case 'general-name':
      return `name${quoted}, which other countries use too, is near${off}`;
    case 'supporting-word':
      return `related word${quoted} is near${off}`;
    case 'counter-word':
      return `counter word${quoted} is near${off}`;
    case 'column-heading':
      return `column heading${quoted}`;
    case 'neighbours':
      return evidence.weight > 0
        ? `${evidence.detail ?? ''} neighbours of the same format`
        : `most of ${evidence.detail ?? ''} neighbours fail the check`;
    case 'listed-word':
      return `listed word${quoted}`;
    default:
      return assertNever(code);
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
  'went-on': 'it has already left',
  volume: 'the amount',
  'outside-recipients': 'recipients outside',
  unreadable: 'parts that could not be read',
  age: 'age against the promised time',
};
