import { OwnExpressions } from '../expressions/own-expression.js';
import { neededSum } from '../model/floor.js';
import type { Prepared } from '../model/prepared.js';
import { ShapeIndex } from './shape-index.js';
import { Triggers } from '../model/triggers.js';
import type { Vocabulary } from './vocabulary.js';

/** Patterns and words compiled for passing over any number of texts. */
export interface FastScan {
  readonly patterns: readonly Prepared[];
  /** Those that take whole cells under their names. */
  readonly takingCells: readonly Prepared[];
  readonly vocabulary: Vocabulary;
  readonly shapes: ShapeIndex;
  readonly triggers: Triggers;
  readonly expressions: OwnExpressions;
}

/** Compiles what the pass needs. */
export function compileFastScan(patterns: readonly Prepared[], vocabulary: Vocabulary): FastScan {
  return {
    patterns,
    takingCells: patterns.filter(({ cells }) => cells),
    vocabulary,
    shapes: new ShapeIndex(patterns, (prepared, grouped) => neededSum(prepared, grouped) <= 0),
    triggers: new Triggers(patterns),
    expressions: new OwnExpressions(patterns),
  };
}
