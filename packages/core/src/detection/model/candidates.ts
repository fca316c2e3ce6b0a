import type { PatternId } from '../../shared/brand.js';
import { certaintyOf, type Evidence, sumOf } from './evidence.js';
import type { Finding } from './finding.js';

/** What is known of a pattern that finds numbers of some countries. */
export interface Nation {
  readonly countries: readonly string[];
  /** Languages in which people of those countries write, as ISO 639-1 codes. */
  readonly languages: readonly string[];
  /** Share of accidental values of its shape that pass its checks, 0 to 1. */
  readonly accidentalShare: number;
  /** Its own names, in small letters. */
  readonly ownNames: ReadonlySet<string>;
}

/** What speaks for one country or another. */
export interface Surroundings {
  readonly nationOf: (pattern: PatternId) => Nation | undefined;
  /** Language of the text, or null where it cannot be told; asked for only where it matters. */
  readonly language: () => string | null;
  /** Whether the text names a country. */
  readonly names: (country: string) => boolean;
  /** Countries in which the organisation is at home. */
  readonly home: ReadonlySet<string>;
}

/** How much more likely a country is than any other, by what speaks for it. */
const BY_LANGUAGE = 4;
/** English is written everywhere. */
const BY_ENGLISH = 2;
const BY_NEIGHBOUR = 8;
const BY_HOME = 20;
const BY_NAME = 30;
/** Share of one country among all, before anything is known. */
const ONE_COUNTRY = 0.03;
/** Weight of "a number that the library does not know": with a name of many countries only, and with a pattern's own. */
const UNKNOWN = 0.1;
const UNKNOWN_WITH_OWN_NAME = 0.02;
/** A name that is a pattern's own as well says that much more for it. */
const BY_OWN_NAME = 6;
/** Checks are believed up to here: numbers that are made up pass some of them. */
const LEAST_ACCIDENTAL = 1 / 2000;
/** From this share on, nothing else is worth telling. */
const AS_GOOD_AS_CERTAIN = 0.95;
/** Below it a rival that is named says nothing. */
const WORTH_TELLING = 50;
/** Candidates told of at most; the rest is rounding. */
const MOST_CANDIDATES = 6;

/** Whether a finding rests on a name that the numbers of other countries have too. */
export const restsOnGeneralName = ({ evidence }: Finding): boolean =>
  evidence.some(({ code }) => code === 'general-name');

/** Sums that differ by less explain the same about equally well, in log-odds. */
const ABOUT_EQUAL = 0.7;

/** Whether a rival explains the same characters about as well, by a name that many countries have or by its own. */
export function explainsAsWell(rival: Finding, finding: Finding): boolean {
  if (rival.start !== finding.start || rival.end !== finding.end) return false;
  if (restsOnGeneralName(finding) && restsOnGeneralName(rival)) return true;
  return sumOf(rival.evidence) >= sumOf(finding.evidence) - ABOUT_EQUAL;
}

/** Countries that the sure findings of a text are of, each where it is of one country alone. */
export function countriesAround(findings: readonly Finding[], { nationOf }: Surroundings): Set<string> {
  const countries = new Set<string>();
  for (const finding of findings) {
    if (finding.certainty < 80 || restsOnGeneralName(finding)) continue;
    const own = nationOf(finding.pattern)?.countries ?? [];
    if (own.length === 1) countries.add(own[0]!);
  }
  return countries;
}

/**
 * A finding that rests on a general name, with the patterns that explain the same characters about as well and the
 * share of each, and with the certainty that it is one of them. The finding itself where it is as good as certain.
 */
export function withCandidates(
  finding: Finding,
  rivals: readonly Finding[],
  surroundings: Surroundings,
  around: ReadonlySet<string>,
): Finding {
  const same = rivals.filter((rival) => explainsAsWell(rival, finding));
  const explained = [finding, ...same].flatMap((each) => {
    const nation = surroundings.nationOf(each.pattern);
    if (!nation) return [];
    const isOwn = !restsOnGeneralName(each) || owns(each, nation);
    return [
      { finding: each, weight: weightOf(nation, surroundings, around) * (isOwn ? BY_OWN_NAME : 1), isOwn },
    ];
  });
  if (explained.length === 0) return finding;
  const known = explained.reduce((sum, { weight }) => sum + weight, 0);
  const candidates = explained
    .map(({ finding: { pattern }, weight }) => ({ pattern, share: weight / known }))
    .sort((left, right) => right.share - left.share || left.pattern.localeCompare(right.pattern, 'en'))
    .slice(0, MOST_CANDIDATES);
  const best = candidates[0]!;
  const shown = explained.find((each) => each.finding.pattern === best.pattern)?.finding ?? finding;
  const settled = { ...doubted(shown, known / (known + unknownBeside(explained))), rivals: finding.rivals };
  return best.share >= AS_GOOD_AS_CERTAIN ? settled : { ...settled, candidates };
}

/** Weight of numbers that the library does not know: none where a name stands that no other country has. */
function unknownBeside(explained: readonly { readonly finding: Finding; readonly isOwn: boolean }[]): number {
  if (explained.some(({ finding }) => !restsOnGeneralName(finding))) return 0;
  return explained.some(({ isOwn }) => isOwn) ? UNKNOWN_WITH_OWN_NAME : UNKNOWN;
}

/** A finding that is one of its candidates with this share only: the doubt is a reason of its own, so that the sum agrees. */
function doubted(finding: Finding, share: number): Finding {
  if (share === 1) return finding;
  const sum = sumOf(finding.evidence);
  const believed = share / (1 + Math.exp(-sum));
  const weight = Math.log(believed / (1 - believed)) - sum;
  const evidence: Evidence[] = [...finding.evidence, { code: 'unknown-number', weight }];
  return { ...finding, evidence, certainty: certaintyOf(evidence) };
}

/**
 * A finding of a pattern that is of no country, such as a passport number of any, with the countries whose own patterns
 * explain it too: it is what it is in full, and each of them by its share.
 */
export function withCountries(
  finding: Finding,
  rivals: readonly Finding[],
  surroundings: Surroundings,
  around: ReadonlySet<string>,
): Finding {
  const same = rivals.filter(
    (rival) =>
      rival.start === finding.start && rival.end === finding.end && surroundings.nationOf(rival.pattern),
  );
  const national = nationalOf(same, surroundings, around);
  if (!national) return finding;
  const { candidates = [{ pattern: national.pattern, share: 1 }] } = national;
  const ratio = Math.min(1, national.certainty / finding.certainty);
  const countries = candidates.map((each) => ({ ...each, share: each.share * ratio }));
  return { ...finding, candidates: [{ pattern: finding.pattern, share: 1 }, ...countries] };
}

/** The best of national patterns with its candidates: among those that are named by their own names, else among all. */
function nationalOf(
  rivals: readonly Finding[],
  surroundings: Surroundings,
  around: ReadonlySet<string>,
): Finding | undefined {
  const named = rivals.filter((rival) => !restsOnGeneralName(rival) && rival.certainty >= WORTH_TELLING);
  const [first, ...rest] = named.length > 0 ? named : rivals.filter(restsOnGeneralName);
  return first && withCandidates(first, rest, surroundings, around);
}

const owns = ({ evidence }: Finding, { ownNames }: Nation): boolean =>
  evidence.some(({ code, detail }) => code === 'general-name' && ownNames.has((detail ?? '').toLowerCase()));

function weightOf(
  nation: Nation,
  { language, home, names }: Surroundings,
  around: ReadonlySet<string>,
): number {
  const { countries, languages, accidentalShare } = nation;
  const written = language();
  let weight = Math.min(1, countries.length * ONE_COUNTRY);
  if (written !== null && languages.includes(written)) weight *= written === 'en' ? BY_ENGLISH : BY_LANGUAGE;
  if (countries.some((country) => around.has(country))) weight *= BY_NEIGHBOUR;
  if (countries.some((country) => home.has(country))) weight *= BY_HOME;
  if (countries.some(names)) weight *= BY_NAME;
  return weight / Math.max(LEAST_ACCIDENTAL, accidentalShare);
}
