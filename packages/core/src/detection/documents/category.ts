import { foldedWords } from '../words/dictionary.js';

/** A category as it was learnt: a plain linear model over words. Plain data, so that it can be stored. */
export interface CategoryModel {
  /** Words with what one of them, at its usual frequency, adds in log-odds before scaling. */
  readonly words: readonly (readonly [word: string, rarity: number, weight: number])[];
  readonly bias: number;
  /** What turns a score into log-odds that held-out samples bear out (Platt, 1999). */
  readonly slope: number;
  readonly offset: number;
}

/** Words of a text with how often each stands there. */
export type WordCounts = ReadonlyMap<string, number>;

/** Words of one text that are looked at: a long book. */
const MAX_WORDS = 200_000;
/** Different words a model knows, the most frequent ones. */
const MAX_FEATURES = 8_000;
const LONGEST_WORD = 30;
/** Texts of fewer words belong to no category: nothing can be said of them. */
export const LEAST_WORDS = 12;
/** Strength of the pull towards small weights, chosen on the training part of an open corpus. */
const RIDGE = 0.003;
const STEPS = 300;

/** Folded words of a text; numbers are left out, since they tell texts apart that mean the same. */
export function wordCounts(text: string): WordCounts {
  const counts = new Map<string, number>();
  let seen = 0;
  for (const word of foldedWords(text)) {
    if (word.length > LONGEST_WORD || /^\d+$/.test(word)) continue;
    counts.set(word, (counts.get(word) ?? 0) + 1);
    seen += 1;
    if (seen === MAX_WORDS) break;
  }
  return counts;
}

/** Number of words that were counted. */
export function sizeOf(counts: WordCounts): number {
  let size = 0;
  for (const count of counts.values()) size += count;
  return size;
}

/** A text as a model sees it: places of its words and how much of each there is, of length 1 together. */
interface Row {
  readonly places: Uint32Array;
  readonly values: Float64Array;
}

interface Features {
  readonly places: ReadonlyMap<string, number>;
  readonly rarities: readonly number[];
}

function featuresOf(texts: readonly WordCounts[]): Features {
  const found = new Map<string, number>();
  for (const text of texts) for (const word of text.keys()) found.set(word, (found.get(word) ?? 0) + 1);
  const words = [...found]
    .filter(([, count]) => count > 1)
    .sort(([left, one], [right, other]) => other - one || (left < right ? -1 : 1))
    .slice(0, MAX_FEATURES);
  return {
    places: new Map(words.map(([word], place) => [word, place])),
    rarities: words.map(([, count]) => Math.log((texts.length + 1) / (count + 0.5))),
  };
}

function rowOf(text: WordCounts, { places, rarities }: Features): Row {
  const at: number[] = [];
  const values: number[] = [];
  let squares = 0;
  for (const [word, count] of text) {
    const place = places.get(word);
    if (place === undefined) continue;
    const value = (1 + Math.log(count)) * rarities[place]!;
    at.push(place);
    values.push(value);
    squares += value * value;
  }
  const length = Math.sqrt(squares) || 1;
  return { places: Uint32Array.from(at), values: Float64Array.from(values, (value) => value / length) };
}

/** Weights of a logistic regression, both sides counting the same however many samples each has. */
function fit(
  rows: readonly Row[],
  sides: readonly boolean[],
  features: number,
): { weights: Float64Array; bias: number } {
  const weights = new Float64Array(features);
  const slope = new Float64Array(features);
  const moved = new Float64Array(features);
  let bias = 0;
  let biasMoved = 0;
  const like = sides.filter(Boolean).length;
  const shareOf = [0.5 / Math.max(1, sides.length - like), 0.5 / Math.max(1, like)] as const;
  for (let step = 0; step < STEPS; step += 1) {
    for (let place = 0; place < features; place += 1) slope[place] = RIDGE * weights[place]!;
    let biasSlope = 0;
    rows.forEach((row, index) => {
      const side = sides[index] ? 1 : 0;
      const error = (1 / (1 + Math.exp(-scoreOf(row, weights, bias))) - side) * shareOf[side];
      for (let at = 0; at < row.places.length; at += 1) slope[row.places[at]!]! += error * row.values[at]!;
      biasSlope += error;
    });
    // Steepest descent with momentum (Polyak, 1964); rows have length 1, so that this step never overshoots.
    for (let place = 0; place < features; place += 1) {
      moved[place] = 0.9 * moved[place]! - 2 * slope[place]!;
      weights[place]! += moved[place]!;
    }
    biasMoved = 0.9 * biasMoved - biasSlope;
    bias += biasMoved;
  }
  return { weights, bias };
}

function scoreOf(row: Row, weights: Float64Array, bias: number): number {
  let score = bias;
  for (let at = 0; at < row.places.length; at += 1) score += weights[row.places[at]!]! * row.values[at]!;
  return score;
}

/** Learns from texts that belong to a category (`true`) and texts that do not; the scale is left at 1. */
export function learn(texts: readonly WordCounts[], sides: readonly boolean[]): CategoryModel {
  const features = featuresOf(texts);
  const rows = texts.map((text) => rowOf(text, features));
  const { weights, bias } = fit(rows, sides, features.rarities.length);
  const words = [...features.places].map(
    ([word, place]) => [word, features.rarities[place]!, weights[place]!] as const,
  );
  return { words, bias, slope: 1, offset: 0 };
}

/** One word's part in a decision, in log-odds. */
export interface WordPart {
  readonly word: string;
  readonly weight: number;
}

/** A model ready to be asked. */
export class Category {
  private readonly features: Features;
  private readonly weights: readonly number[];

  constructor(private readonly model: CategoryModel) {
    this.features = {
      places: new Map(model.words.map(([word], place) => [word, place])),
      rarities: model.words.map(([, rarity]) => rarity),
    };
    this.weights = model.words.map(([, , weight]) => weight);
  }

  /** Log-odds by themselves before any word, and what each word of the text adds. */
  parts(text: WordCounts): { base: number; words: WordPart[] } {
    const { slope, offset, bias, words } = this.model;
    const row = rowOf(text, this.features);
    return {
      base: slope * bias + offset,
      words: [...row.places].map((place, at) => ({
        word: words[place]![0],
        weight: slope * this.weights[place]! * row.values[at]!,
      })),
    };
  }

  /** Log-odds that a text belongs to the category. */
  sum(text: WordCounts): number {
    const { base, words } = this.parts(text);
    return words.reduce((sum, { weight }) => sum + weight, base);
  }
}
