import type { RawOffset, SearchOffset } from '../../shared/brand.js';
import { NO_LETTER, WORD_UNITS } from '../../text/fold.js';
import type { SearchText } from '../../text/search-text.js';
import { certaintyOf, type Evidence } from '../model/evidence.js';
import type { Finding } from '../model/finding.js';
import type { DocumentsPattern } from '../model/pattern.js';
import { Category, type CategoryModel, LEAST_WORDS, sizeOf, type WordPart, wordCounts } from './category.js';
import { type LikenessIndex, LikenessMatcher, type Reappearance } from './likeness.js';

/** What was learnt from sample documents. */
export type DocumentSource =
  | { readonly learns: 'likeness'; readonly index: LikenessIndex }
  | { readonly learns: 'category'; readonly model: CategoryModel };

/** Finds documents in a text. */
export type FindDocuments = (search: SearchText) => Finding[];

/** Log-odds of a text that holds just the share asked for, a certainty of 80, and what the whole sample adds. */
const ENOUGH = Math.log(0.8 / 0.2);
const WHOLE = 4;
/** A finding marks this many characters at most, from where it begins: whole pages would hide what they are. */
export const LONGEST_PLACE = 1_200;
/** Characters of the stretch of a text that speaks most for a category: a paragraph. */
const TELLING_STRETCH = 400;
/** Stretches of one sample, and samples, that are told of one text. */
const MAX_STRETCHES = 10;
const MAX_TOLD = 10;
/** Words that are told as reasons, the strongest ones. */
const TOLD_WORDS = 6;

/** Looks for what all patterns learnt; those whose samples are not at hand find nothing. */
export function documentFinder(
  patterns: readonly DocumentsPattern[],
  sources: ReadonlyMap<string, DocumentSource>,
): FindDocuments {
  const finders = patterns.flatMap((pattern): FindDocuments[] => {
    const source = sources.get(pattern.id);
    if (!source) return [];
    if (source.learns === 'likeness') {
      const matcher = new LikenessMatcher(source.index);
      return [(search) => likenessFindings(pattern, search, matcher.find(search, pattern.leastShare))];
    }
    const category = new Category(source.model);
    return [(search) => categoryFindings(pattern, search, category)];
  });
  return (search) => finders.flatMap((find) => find(search));
}

const placeOf = ({ toRaw, toRawEnd }: SearchText, start: number, end: number) => ({
  start: toRaw(start as SearchOffset) as RawOffset,
  end: toRawEnd(Math.min(end, start + LONGEST_PLACE) as SearchOffset) as RawOffset,
});

function likenessFindings(
  { id, leastShare }: DocumentsPattern,
  search: SearchText,
  found: readonly Reappearance[],
): Finding[] {
  const findings: Finding[] = [];
  const taken: { start: number; end: number }[] = [];
  for (const { sample, share, stretches } of found.slice(0, MAX_TOLD)) {
    // Versions of one document reappear together: the fullest one is told.
    const free = stretches.filter(
      ({ start, end, pieces }) =>
        (pieces > 1 || stretches.length === 1) &&
        !taken.some((other) => start < other.end && other.start < end),
    );
    taken.push(...free);
    const beyond = leastShare >= 1 ? 1 : (share - leastShare) / (1 - leastShare);
    const detail = `${Math.round(share * 100)} % of ${sample.name}`;
    const evidence: Evidence[] = [{ code: 'reappears', weight: ENOUGH + WHOLE * beyond, detail }];
    for (const { start, end } of free.slice(0, MAX_STRETCHES))
      findings.push({
        pattern: id,
        ...placeOf(search, start, end),
        certainty: certaintyOf(evidence),
        evidence,
        canonical: sample.id,
        rivals: [],
      });
  }
  return findings;
}

function categoryFindings({ id }: DocumentsPattern, search: SearchText, category: Category): Finding[] {
  const counts = wordCounts(search.text);
  if (sizeOf(counts) < LEAST_WORDS) return [];
  const { base, words } = category.parts(counts);
  const evidence = categoryEvidence(base, words);
  const certainty = certaintyOf(evidence);
  // Below even odds it is no finding: nearly every text would hold one.
  if (certainty < 50) return [];
  const start = strongestPlace(search.text, words);
  const place = placeOf(search, start, Math.min(search.text.length, start + TELLING_STRETCH));
  return [{ pattern: id, ...place, certainty, evidence, canonical: id, rivals: [] }];
}

function categoryEvidence(base: number, words: readonly WordPart[]): Evidence[] {
  const byStrength = [...words].sort((left, right) => Math.abs(right.weight) - Math.abs(left.weight));
  const told = byStrength.slice(0, TOLD_WORDS);
  const rest = byStrength.slice(TOLD_WORDS);
  const evidence: Evidence[] = [{ code: 'category', weight: base }];
  for (const { word, weight } of told) evidence.push({ code: 'category-word', weight, detail: word });
  if (rest.length > 0)
    evidence.push({
      code: 'category-others',
      weight: rest.reduce((sum, { weight }) => sum + weight, 0),
      detail: String(rest.length),
    });
  return evidence;
}

/** Where the stretch of {@link TELLING_STRETCH} characters begins that speaks most for the category. */
function strongestPlace(text: string, words: readonly WordPart[]): number {
  const weights = new Map(words.map(({ word, weight }) => [word, weight]));
  const hits: { at: number; weight: number }[] = [];
  for (const match of text.matchAll(/[\p{L}\p{M}\p{N}]+/gu)) {
    const weight = weights.get(folded(match[0]));
    if (weight !== undefined) hits.push({ at: match.index, weight });
  }
  let best = 0;
  let most = -Infinity;
  let sum = 0;
  let last = 0;
  for (let first = 0; first < hits.length; first += 1) {
    while (last < hits.length && hits[last]!.at < hits[first]!.at + TELLING_STRETCH)
      sum += hits[last++]!.weight;
    if (sum > most) {
      most = sum;
      best = hits[first]!.at;
    }
    sum -= hits[first]!.weight;
  }
  return best;
}

/** A word as the model knows it. */
function folded(word: string): string {
  let letters = '';
  for (let at = 0; at < word.length; at += 1) {
    const letter = WORD_UNITS[word.charCodeAt(at)]!;
    if (letter !== NO_LETTER) letters += String.fromCharCode(letter);
  }
  return letters;
}
