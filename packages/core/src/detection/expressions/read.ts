import { type AST, RegExpParser } from '@eslint-community/regexpp';
import { FOLDED_UNITS, SEPARATOR, UNIT_CLASSES } from '../../text/fold.js';
import { eachUnit, inverted, LAST_UNIT, type Ranges, rangesWhere, sizeOf, tidy } from './ranges.js';

/** An expression taken apart: what an automaton can be made of, and nothing else. */
export type Piece =
  | { readonly kind: 'unit'; readonly of: Ranges }
  | { readonly kind: 'row' | 'choice'; readonly items: readonly Piece[] }
  | { readonly kind: 'repeat'; readonly item: Piece; readonly least: number; readonly most: number }
  | { readonly kind: 'edge'; readonly of: 'line-start' | 'line-end' | 'word' | 'no-word' }
  /** One unit beside this place is, or is not, among these; the end of the text is among none. */
  | {
      readonly kind: 'beside';
      readonly side: 'left' | 'right';
      readonly of: Ranges;
      readonly wanted: boolean;
    };

/** Why an expression is not taken. */
export type ExpressionProblem =
  | 'empty'
  | 'not-readable'
  | 'refers-back'
  | 'looks-around'
  | 'too-large'
  | 'finds-nothing'
  | 'finds-everything';

/** Says what is wrong and where, in characters of the expression as written. */
export class ExpressionError extends Error {
  constructor(
    readonly problem: ExpressionProblem,
    readonly at: number,
    /** What the reader of expressions says, or the part that is meant. */
    readonly about: string = '',
  ) {
    super(problem);
  }
}

/** Longest expression, in characters; longer ones are lists of words. */
export const MAX_EXPRESSION = 2_000;

const isWord = (unit: number): boolean => unit === 95 || UNIT_CLASSES[unit] !== SEPARATOR;
const SPACE = /\s/;

/** Letters and digits of any script, and the low line. */
export const WORD_RANGES: Ranges = rangesWhere(isWord);
export const BREAK_RANGES: Ranges = [
  [10, 10],
  [13, 13],
  [0x2028, 0x2029],
];
const DIGIT_RANGES: Ranges = [[48, 57]];
const SPACE_RANGES: Ranges = rangesWhere((unit) => SPACE.test(String.fromCharCode(unit)));

/** Classes larger than this keep both cases anyway: `\w`, `[^a]`. */
const LARGEST_FOLDED = 4_000;

/**
 * Reads an expression in the notation of ECMAScript (ECMA-262, 22.2.1). Throws {@link ExpressionError} for what cannot
 * be run in one pass over a text: references back, and looking around further than one character.
 */
export function readExpression(source: string, caseMatters: boolean): Piece {
  if (source.trim() === '') throw new ExpressionError('empty', 0);
  if (source.length > MAX_EXPRESSION) throw new ExpressionError('too-large', MAX_EXPRESSION);
  let pattern: AST.Pattern;
  try {
    const unicode = /\\[pP]\{|\\u\{|[\ud800-\udbff]/.test(source);
    pattern = new RegExpParser({ ecmaVersion: 2025 }).parsePattern(source, 0, source.length, { unicode });
  } catch (error) {
    const at = error instanceof Error && 'index' in error ? Number(error.index) : 0;
    const about =
      error instanceof Error ? error.message.replace(/^Invalid regular expression: .*?\/: /, '') : '';
    throw new ExpressionError('not-readable', at, about);
  }
  return new Reader(caseMatters).choice(pattern.alternatives);
}

class Reader {
  constructor(private readonly caseMatters: boolean) {}

  choice(alternatives: readonly AST.Alternative[]): Piece {
    const items = alternatives.map((alternative) => this.row(alternative.elements));
    return items.length === 1 && items[0] ? items[0] : { kind: 'choice', items };
  }

  private row(elements: readonly AST.Element[]): Piece {
    const items = elements.map((element) => this.element(element));
    return items.length === 1 && items[0] ? items[0] : { kind: 'row', items };
  }

  private element(element: AST.Element): Piece {
    switch (element.type) {
      case 'Character':
        return this.character(element.value);
      case 'CharacterSet':
      case 'CharacterClass':
        return { kind: 'unit', of: this.widened(this.ranges(element)) };
      case 'Quantifier':
        return {
          kind: 'repeat',
          item: this.element(element.element),
          least: element.min,
          most: element.max,
        };
      case 'Group':
      case 'CapturingGroup':
        return this.choice(element.alternatives);
      case 'Assertion':
        return this.assertion(element);
      case 'Backreference':
        throw new ExpressionError('refers-back', element.start, element.raw);
      default:
        throw new ExpressionError('not-readable', element.start, element.raw);
    }
  }

  private character(value: number): Piece {
    if (value <= LAST_UNIT) return { kind: 'unit', of: this.widened([[value, value]]) };
    const items = Array.from(String.fromCodePoint(value).split(''), (unit): Piece => {
      const code = unit.charCodeAt(0);
      return { kind: 'unit', of: [[code, code]] };
    });
    return { kind: 'row', items };
  }

  private assertion(assertion: AST.Assertion): Piece {
    switch (assertion.kind) {
      case 'start':
        return { kind: 'edge', of: 'line-start' };
      case 'end':
        return { kind: 'edge', of: 'line-end' };
      case 'word':
        return { kind: 'edge', of: assertion.negate ? 'no-word' : 'word' };
      default: {
        const ranges = assertion.alternatives.map(({ elements }) => {
          const piece = elements.length === 1 && elements[0] ? this.element(elements[0]) : null;
          if (piece?.kind !== 'unit')
            throw new ExpressionError('looks-around', assertion.start, assertion.raw);
          return piece.of;
        });
        const side = assertion.kind === 'lookbehind' ? 'left' : 'right';
        return { kind: 'beside', side, of: tidy(ranges.flat()), wanted: !assertion.negate };
      }
    }
  }

  private ranges(
    element: AST.CharacterSet | AST.CharacterClass | AST.ClassRangesCharacterClassElement,
  ): Ranges {
    switch (element.type) {
      case 'Character':
        return element.value <= LAST_UNIT ? [[element.value, element.value]] : [];
      case 'CharacterClassRange':
        return element.min.value > LAST_UNIT
          ? []
          : [[element.min.value, Math.min(LAST_UNIT, element.max.value)]];
      case 'CharacterSet':
        return setRanges(element);
      case 'CharacterClass': {
        const elements = element.elements as readonly AST.ClassRangesCharacterClassElement[];
        // Both cases before the inversion: `[^a]` leaves out A as well.
        const inside = this.widened(tidy(elements.flatMap((each) => this.ranges(each))));
        return element.negate ? inverted(inside) : inside;
      }
      default:
        throw new ExpressionError('not-readable', 0, '');
    }
  }

  /** Adds what the searched text has in place of a character, and its other case where case does not matter. */
  private widened(ranges: Ranges): Ranges {
    if (sizeOf(ranges) > LARGEST_FOLDED) return ranges;
    const more: [number, number][] = [];
    const add = (unit: number): void => {
      const folded = FOLDED_UNITS[unit] ?? unit;
      if (folded !== 0) more.push([folded, folded]);
    };
    eachUnit(ranges, (unit) => {
      add(unit);
      if (this.caseMatters) return;
      const letter = String.fromCharCode(unit);
      for (const other of [letter.toLowerCase(), letter.toUpperCase()])
        if (other.length === 1) add(other.charCodeAt(0));
    });
    return tidy([...ranges, ...more]);
  }
}

function setRanges(set: AST.CharacterSet): Ranges {
  switch (set.kind) {
    case 'any':
      return inverted(BREAK_RANGES);
    case 'digit':
      return set.negate ? inverted(DIGIT_RANGES) : DIGIT_RANGES;
    case 'space':
      return set.negate ? inverted(SPACE_RANGES) : SPACE_RANGES;
    case 'word':
      return set.negate ? inverted(WORD_RANGES) : WORD_RANGES;
    default: {
      const property = new RegExp(`^${set.raw}$`, 'u');
      return rangesWhere((unit) => property.test(String.fromCharCode(unit)));
    }
  }
}

/** Whether a piece can stand for no character at all. */
export function canBeEmpty(piece: Piece): boolean {
  switch (piece.kind) {
    case 'unit':
      return false;
    case 'row':
      return piece.items.every(canBeEmpty);
    case 'choice':
      return piece.items.some(canBeEmpty);
    case 'repeat':
      return piece.least === 0 || canBeEmpty(piece.item);
    default:
      return true;
  }
}
