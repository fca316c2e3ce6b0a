import { Category, type CategoryModel, learn, type WordCounts, type WordPart } from './category.js';
import { type Share, wilson } from '../../shared/interval.js';

/** How a category did on samples that it was not learnt from. */
export interface HeldOut {
  /** Certainty from which a text counts as found. */
  readonly certainty: number;
  readonly precision: Share;
  readonly recall: Share;
}

/** What learning a category came to. */
export interface CategoryReport {
  readonly like: number;
  readonly unlike: number;
  readonly heldOut: readonly HeldOut[];
  /** Held-out certainty of each sample, 0 to 100, in their order. */
  readonly certainties: readonly number[];
  /** Words that speak most for and against it, in log-odds for a text that holds little else. */
  readonly wordsFor: readonly WordPart[];
  readonly wordsAgainst: readonly WordPart[];
  /** Fewer samples on a side than can be learnt from with any confidence. */
  readonly tooFew: boolean;
}

/** Rounds in which each sample is held out once. */
export const FOLDS = 5;
/** Fewest samples of a side that are learnt from at all. */
export const LEAST_SAMPLES = 5;
/** Below this many on a side the intervals are too wide to rely on. */
export const ENOUGH_SAMPLES = 20;
const CERTAINTIES = [50, 80, 95] as const;
const SHOWN_WORDS = 15;

/** Learns a category and tries it on held-out samples; `onRound` hears of each round, of {@link FOLDS} and one more. */
export function learnCategory(
  texts: readonly WordCounts[],
  sides: readonly boolean[],
  onRound: (round: number) => void = () => undefined,
): { model: CategoryModel; report: CategoryReport } {
  const scores = heldOutScores(texts, sides, onRound);
  const { slope, offset } = scaleOf(scores, sides);
  const model = { ...learn(texts, sides), slope, offset };
  onRound(FOLDS + 1);
  const certainties = scores.map((score) => Math.round(100 / (1 + Math.exp(-(slope * score + offset)))));
  const like = sides.filter(Boolean).length;
  const byWeight = model.words
    .map(([word, , weight]): WordPart => ({ word, weight: weight * slope }))
    .sort((left, right) => right.weight - left.weight);
  return {
    model,
    report: {
      like,
      unlike: sides.length - like,
      heldOut: CERTAINTIES.map((certainty) => heldOutAt(certainty, certainties, sides)),
      certainties,
      wordsFor: byWeight.slice(0, SHOWN_WORDS).filter(({ weight }) => weight > 0),
      wordsAgainst: byWeight
        .slice(-SHOWN_WORDS)
        .reverse()
        .filter(({ weight }) => weight < 0),
      tooFew: Math.min(like, sides.length - like) < ENOUGH_SAMPLES,
    },
  };
}

/** Scores of all samples, each by a model that did not see it; every round holds out its share of both sides. */
function heldOutScores(
  texts: readonly WordCounts[],
  sides: readonly boolean[],
  onRound: (round: number) => void,
): number[] {
  const seen = { like: 0, unlike: 0 };
  const folds = sides.map((side) => {
    const key = side ? 'like' : 'unlike';
    seen[key] += 1;
    return seen[key] % FOLDS;
  });
  const scores: number[] = new Array<number>(texts.length).fill(0);
  for (let fold = 0; fold < FOLDS; fold += 1) {
    const kept = folds.flatMap((each, index) => (each === fold ? [] : [index]));
    const category = new Category(
      learn(
        kept.map((index) => texts[index]!),
        kept.map((index) => sides[index]!),
      ),
    );
    folds.forEach((each, index) => {
      if (each === fold) scores[index] = category.sum(texts[index]!);
    });
    onRound(fold + 1);
  }
  return scores;
}

function heldOutAt(certainty: number, certainties: readonly number[], sides: readonly boolean[]): HeldOut {
  const found = certainties.map((each) => each >= certainty);
  const right = found.filter((each, index) => each && sides[index]).length;
  return {
    certainty,
    precision: wilson(right, found.filter(Boolean).length),
    recall: wilson(right, sides.filter(Boolean).length),
  };
}

const NEWTON_STEPS = 50;

/**
 * Slope and offset that make log-odds of scores (J. Platt, Probabilistic Outputs for Support Vector Machines, 1999):
 * few samples never make a certainty that more of them would not. Newton's method with halved steps where needed
 * (Lin, Lin, Weng, 2007).
 */
export function scaleOf(
  scores: readonly number[],
  sides: readonly boolean[],
): { slope: number; offset: number } {
  const like = sides.filter(Boolean).length;
  const unlike = sides.length - like;
  const high = (like + 1) / (like + 2);
  const low = 1 / (unlike + 2);
  const targets = sides.map((side) => (side ? high : low));
  // Both sides count the same: how often the category comes in mail is not how often it was uploaded.
  const shares = sides.map((side) => (side ? 0.5 / Math.max(1, like) : 0.5 / Math.max(1, unlike)));
  const lossOf = (slope: number, offset: number): number =>
    scores.reduce((loss, score, index) => {
      const sum = slope * score + offset;
      const cost = sum > 0 ? Math.log1p(Math.exp(-sum)) : Math.log1p(Math.exp(sum)) - sum;
      return loss + shares[index]! * (cost + (1 - targets[index]!) * sum);
    }, 0);
  let slope = 1;
  let offset = 0;
  for (let step = 0; step < NEWTON_STEPS; step += 1) {
    const move = newtonStep(scores, { targets, shares }, { slope, offset });
    let share = 1;
    const before = lossOf(slope, offset);
    while (share > 1e-6 && lossOf(slope + share * move.slope, offset + share * move.offset) > before)
      share /= 2;
    slope += share * move.slope;
    offset += share * move.offset;
    if (Math.abs(move.slope) + Math.abs(move.offset) < 1e-9) break;
  }
  // A score that says the opposite of what it was learnt for says nothing.
  return slope > 0 ? { slope, offset } : { slope: 0, offset: 0 };
}

/** Keeps the step finite where the scores part both sides without a doubt. */
const DAMPING = 1e-9;

function newtonStep(
  scores: readonly number[],
  { targets, shares }: { targets: readonly number[]; shares: readonly number[] },
  at: { slope: number; offset: number },
): { slope: number; offset: number } {
  let [ss, so, oo, bySlope, byOffset] = [DAMPING, 0, DAMPING, 0, 0];
  scores.forEach((score, index) => {
    const chance = 1 / (1 + Math.exp(-(at.slope * score + at.offset)));
    const curve = shares[index]! * chance * (1 - chance);
    const error = shares[index]! * (chance - targets[index]!);
    ss += curve * score * score;
    so += curve * score;
    oo += curve;
    bySlope += error * score;
    byOffset += error;
  });
  const determinant = ss * oo - so * so;
  return {
    slope: -(oo * bySlope - so * byOffset) / determinant,
    offset: -(ss * byOffset - so * bySlope) / determinant,
  };
}
