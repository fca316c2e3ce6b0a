import type { PatternSummary } from '@lantern/contracts';
import { countryName } from '../../wording/countries';

export interface PatternFilter {
  readonly kind: string;
  /** ISO 3166-1 alpha-2 code. */
  readonly country: string;
  /** `used`, `unused`, `noisy`, `changed`, or empty for all. */
  readonly show: string;
  readonly words: string;
}

/** A pattern is noisy when at least this many decided incidents held it and this share of them were false positives. */
const NOISY = { decided: 3, share: 0.3 };

export function isNoisy(pattern: PatternSummary): boolean {
  return pattern.decided >= NOISY.decided && pattern.falsePositives / pattern.decided >= NOISY.share;
}

/** Text in which words are searched: every name, the purpose, the source, the countries by code and by name. */
function searched(pattern: PatternSummary): string {
  const { name, otherNames, about, source, check, countries } = pattern;
  const places = countries.length > 12 ? [] : countries.flatMap((code) => [code, countryName(code)]);
  return plain([name, ...otherNames, about, source, check, ...places].join(' '));
}

const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

/** Patterns that fit the filters; every word must stand somewhere in what describes the pattern. */
export function narrowPatterns(patterns: readonly PatternSummary[], filter: PatternFilter): PatternSummary[] {
  const words = plain(filter.words).split(/\s+/).filter(Boolean);
  return patterns.filter((pattern) => {
    if (filter.kind !== '' && pattern.kind !== filter.kind) return false;
    if (filter.country !== '' && !pattern.countries.includes(filter.country)) return false;
    if (!fitsShow(pattern, filter.show)) return false;
    if (words.length === 0) return true;
    const text = searched(pattern);
    return words.every((word) => text.includes(word));
  });
}

function fitsShow(pattern: PatternSummary, show: string): boolean {
  switch (show) {
    case 'used':
      return pattern.usedBy.length > 0;
    case 'unused':
      return pattern.usedBy.length === 0;
    case 'noisy':
      return isNoisy(pattern);
    case 'changed':
      return pattern.state !== 'published';
    default:
      return true;
  }
}

/** Countries that patterns of the list are of, by name; the account numbers of nearly all countries do not count. */
export function countriesOf(patterns: readonly PatternSummary[]): { code: string; name: string }[] {
  const codes = new Set(
    patterns.flatMap((pattern) => (pattern.countries.length > 12 ? [] : pattern.countries)),
  );
  return [...codes]
    .map((code) => ({ code, name: countryName(code) }))
    .sort((left, right) => left.name.localeCompare(right.name, 'en'));
}
