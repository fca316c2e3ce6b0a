import type { PatternId } from '../../../shared/brand.js';
import { type CompiledCheck, compileChecks } from '../../checks/compile.js';
import type { CheckStep } from '../../checks/step.js';
import type { TriggerRecognition, PatternKind, PatternWeights, ReadyPattern } from '../../model/pattern.js';
import { DIGIT, type ShapeVariant, shapeVariants } from '../../model/shape.js';
import { type GeneralSubject, generalNames } from './general-names.js';
import { COUNTRY_LANGUAGES, type Language, SUBJECT_WORDS } from './languages.js';

/** What an author of the library writes; everything that can be derived is left out. */
export interface Entry {
  readonly id: string;
  readonly name: string;
  readonly also?: readonly string[];
  readonly kind: Exclude<PatternKind, 'own-words' | 'own-expression' | 'own-records' | 'own-documents'>;
  readonly countries?: readonly string[];
  readonly about: string;
  readonly shapes?: readonly string[];
  readonly separators?: readonly string[];
  readonly found?: Partial<TriggerRecognition> & Pick<TriggerRecognition, 'trigger' | 'expression'>;
  readonly steps?: readonly CheckStep[];
  readonly usual?: readonly CheckStep[];
  readonly weights?: Partial<PatternWeights>;
  /** Its own names, as people write them. */
  readonly words: readonly string[];
  readonly supporting?: readonly string[];
  readonly counter?: readonly string[];
  /** Languages beside those of its countries; `all` where people write about it in any. */
  readonly languages?: readonly Language[] | 'all';
  readonly tests?: readonly string[];
  readonly source: string;
  readonly passing: readonly string[];
  readonly nearMisses: readonly string[];
}

/** Weights that hold unless an entry says otherwise; chosen with `bench -- accuracy`, see docs/decisions/0002. */
export const USUAL_WEIGHTS = { namingWord: 7, supportingWord: 2.2, heading: 7.5, counterWord: -4, testValue: -1, grouping: 0.8 } as const;

/** Share of the information in dates, ranges and lists that is believed: accidental numbers hold dates more often than chance. */
const STRUCTURE_BELIEF = 0.6;
const MOST_FOR_STRUCTURE = 3;
/** Beyond one in two thousand, more check digits do not make a finding more believable. */
const MOST_FOR_CHECK = Math.log(2000);

/** Short words of Latin script are words of other languages once their accents are gone: `thẻ`, `pas`, `red`. */
const SHORTEST_LATIN = 4;

function tellsMuch(language: Language): (word: string) => boolean {
  return (word) => language === 'en' || word.length >= SHORTEST_LATIN || !/^[\p{Script=Latin}\p{M}]+$/u.test(word);
}

/** Completes an entry: words of its languages, weights of its shape and checks. */
export function define(entry: Entry): ReadyPattern {
  const { countries = [], steps = [], usual = [], separators = [''] } = entry;
  const check = compileChecks(steps);
  const languages = languagesOf(entry);
  const words = new Set(entry.words.map((word) => word.toLowerCase()));
  const fresh = (word: string) => !words.has(word.toLowerCase());
  const supporting = [...(entry.supporting ?? []), ...languages.flatMap((language) => SUBJECT_WORDS[language][entry.kind].filter(tellsMuch(language)))].filter(fresh);
  const general = generalOf(entry, languages);
  const against = [...(entry.counter ?? []), ...languages.flatMap((language) => SUBJECT_WORDS[language].counter.filter(tellsMuch(language)))].filter((word) => fresh(word) && !supporting.includes(word));
  return { origin: 'ready', id: entry.id as PatternId, name: entry.name, otherNames: entry.also ?? [], kind: entry.kind, countries, about: entry.about, recognition: recognitionOf(entry, separators), steps, usualSteps: usual, weights: weightsOf(entry, check, usual), namingWords: entry.words, generalNames: general, supportingWords: [...new Set(supporting)], counterWords: [...new Set(against)], testValues: entry.tests ?? [], source: entry.source, examples: { passing: entry.passing, nearMisses: entry.nearMisses } };
}

const SUBJECTS: Readonly<Partial<Record<Entry['kind'], GeneralSubject>>> = { identity: 'identity', tax: 'tax', bank: 'account', health: 'health' };

/** Names that an entry shares with those of other countries: none for one that is of no country. */
function generalOf({ id, kind, countries = [], shapes }: Entry, languages: readonly Language[]): string[] {
  const travel = id.endsWith('passport') ? 'passport' : id.endsWith('licence') ? 'licence' : undefined;
  const subject = kind === 'travel' ? travel : SUBJECTS[kind];
  if (subject === undefined || countries.length === 0 || !shapes || isNoAccount(id, subject)) return [];
  return generalNames(subject, languages);
}

/** Codes of banks and branches are no accounts. */
const isNoAccount = (id: string, subject: GeneralSubject): boolean => subject === 'account' && /routing|sort-code|bankleitzahl|transit|bsb|ifsc|reference|clearing|branch|structured/.test(id);

/** A value beside a name of many countries is certain to 90 in a hundred to be a number of one of them. */
const GENERAL_SUM = 2.2;

/** A value right beside its own name is certain to 96 in a hundred, however common its shape is. */
const NAMED_SUM = 3.2;

function weightsOf(entry: Entry, check: CompiledCheck, usual: readonly CheckStep[]): PatternWeights {
  const weights = { ...USUAL_WEIGHTS, generalName: 0, shape: shapeWeight(entry), structure: Math.min(MOST_FOR_STRUCTURE, -Math.log(check.structureShare) * STRUCTURE_BELIEF), check: Math.min(MOST_FOR_CHECK, -Math.log(check.digitsShare)), usualCheck: usual.length === 0 ? 0 : -Math.log(compileChecks(usual).digitsShare), ...entry.weights };
  const bare = weights.shape + weights.structure + weights.check - weights.usualCheck / 2;
  weights.generalName = Math.max(GENERAL_SUM, GENERAL_SUM - bare);
  // A name says little where the look of the value decides.
  if (bare >= 0 || entry.found?.looks === 'secret') return rounded(weights);
  const namingWord = Math.max(weights.namingWord, NAMED_SUM - bare);
  return rounded({ ...weights, namingWord, heading: Math.max(weights.heading, namingWord + 0.5) });
}

/** Weights to two places: nobody reads more, and sums of what is shown agree with the sum. */
function rounded(weights: PatternWeights): PatternWeights {
  return Object.fromEntries(Object.entries(weights).map(([name, weight]) => [name, Math.round(weight * 100) / 100])) as unknown as PatternWeights;
}

function recognitionOf(entry: Entry, separators: readonly string[]): ReadyPattern['recognition'] {
  if (entry.found) return { by: 'trigger', before: '', longestBefore: 0, anyCase: false, canonical: 'as-written', group: 0, looks: 'any', cells: false, ...entry.found };
  return { by: 'shapes', shapes: entry.shapes ?? [], separators };
}

function languagesOf(entry: Entry): Language[] {
  if (entry.languages === 'all') return Object.keys(SUBJECT_WORDS) as Language[];
  const own = (entry.countries ?? []).length > 12 ? [] : (entry.countries ?? []);
  return [...new Set<Language>([...own.flatMap((country) => COUNTRY_LANGUAGES[country] ?? []), ...(entry.languages ?? []), 'en'])];
}

/**
 * Log-odds before anything else is known, by how common the barest way of writing it is in ordinary text: bare digits
 * are everywhere, letters and fixed separators make a shape rarer.
 */
function shapeWeight(entry: Entry): number {
  if (entry.found) return -1;
  const weights = shapeVariants(entry.shapes ?? [], [(entry.separators ?? [''])[0] ?? '']).map(variantWeight);
  return Math.min(...weights);
}

function variantWeight(variant: ShapeVariant): number {
  const units = variant.groups.flatMap((group) => group.masks.slice(0, group.least));
  const letters = units.filter((mask) => (mask & DIGIT) === 0).length;
  const literal = variant.groups.flatMap((group) => group.exact).filter((unit) => unit > 57).length;
  const marks = variant.between.join('').length + variant.after.length;
  const bare = units.length <= 6 ? -9 : units.length <= 8 ? -7.5 : units.length <= 10 ? -7 : -6.4;
  return Math.min(-3, bare + Math.min(1.5, letters * 0.4) + Math.min(3, literal) + Math.min(1.6, marks * 0.6));
}
