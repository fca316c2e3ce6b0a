/**
 * The notation of shapes. `9` is a digit, `A` a capital letter, `a` a letter of either case, `X` a digit or capital,
 * `x` a digit or letter, `{8}` and `{6,8}` repeat what stands before (a span only at the end of a group), `_` is one of
 * the pattern's separators, `'GB'` stands for itself, as does any other character.
 */

export const DIGIT = 1;
export const CAPITAL = 2;
export const SMALL = 4;

/** Letters and digits that stand together. */
export interface ShapeGroup {
  /** What may stand at each place, as bits; as long as the longest form. */
  readonly masks: readonly number[];
  /** The unit that must stand at a place, or 0. */
  readonly exact: readonly number[];
  readonly least: number;
  readonly most: number;
}

/** One way of writing a value: groups with one or more units of other characters around them. */
export interface ShapeVariant {
  readonly notation: string;
  /** Characters before each group; the first is before the value's first group and belongs to the value. */
  readonly between: readonly string[];
  readonly groups: readonly ShapeGroup[];
  /** Characters after the last group. */
  readonly after: string;
  /** Separators stand where the shape allows for some. */
  readonly grouped: boolean;
}

/** Longest value that a shape may describe, in units. */
export const MAX_SHAPE_LENGTH = 64;

const MASKS: Readonly<Record<string, number>> = {
  '9': DIGIT,
  A: CAPITAL,
  a: CAPITAL | SMALL,
  X: DIGIT | CAPITAL,
  x: DIGIT | CAPITAL | SMALL,
};

/** All ways of writing that `shapes` and `separators` describe. Throws an Error for a notation that cannot be read. */
export function shapeVariants(shapes: readonly string[], separators: readonly string[]): ShapeVariant[] {
  return shapes.flatMap((shape) => {
    if (!shape.includes('_')) return [readVariant(shape, false)];
    return separators.map((separator) => readVariant(shape.replaceAll('_', separator), separator !== ''));
  });
}

interface Building {
  masks: number[];
  exact: number[];
  spare: number;
}

function readVariant(notation: string, grouped: boolean): ShapeVariant {
  const between: string[] = [''];
  const groups: ShapeGroup[] = [];
  let open: Building | null = null;
  const close = () => {
    if (!open) return;
    const { masks, exact, spare } = open;
    groups.push({ masks, exact, least: masks.length - spare, most: masks.length });
    between.push('');
    open = null;
  };
  const atom = /'([^']+)'|([9AaXx])(?:\{(\d+)(?:,(\d+))?\})?|([^'])/gu;
  for (const [, literal, unit, least, most, other] of notation.matchAll(atom)) {
    if (other !== undefined) {
      close();
      between[between.length - 1] += other;
      continue;
    }
    open ??= { masks: [], exact: [], spare: 0 };
    if (open.spare > 0) throw new Error(`"${notation}": only the end of a group may vary in length`);
    if (literal !== undefined) {
      for (const each of literal) {
        open.exact.push(each.charCodeAt(0));
        open.masks.push(/\d/.test(each) ? DIGIT : CAPITAL);
      }
      continue;
    }
    const from = Number(least ?? 1);
    const to = Number(most ?? from);
    for (let count = 0; count < to; count += 1) {
      open.masks.push(MASKS[unit ?? ''] ?? 0);
      open.exact.push(0);
    }
    open.spare = to - from;
  }
  close();
  const after = between.pop() ?? '';
  if (groups.length === 0) throw new Error(`"${notation}" holds no letter or digit`);
  return { notation, between, groups, after, grouped };
}

const CLASSES: readonly [number, string][] = [
  [DIGIT, '0-9'],
  [CAPITAL, 'A-Z'],
  [SMALL, 'a-z'],
];

const escapeUnits = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&');

/** The same variant as a plain expression, without what must stand around it; the scanner is held to it by a test. */
export function shapeExpression(variant: ShapeVariant): string {
  const groups = variant.groups.map((group, index) => {
    const places = group.masks.map((mask, place) => {
      const exact = group.exact[place] ?? 0;
      if (exact !== 0) return escapeUnits(String.fromCharCode(exact));
      return `[${CLASSES.filter(([bit]) => mask & bit)
        .map(([, range]) => range)
        .join('')}]`;
    });
    const fixed = places.slice(0, group.least).join('');
    const spare = places.slice(group.least).reduceRight((inner, place) => `(?:${place}${inner})?`, '');
    return escapeUnits(variant.between[index] ?? '') + fixed + spare;
  });
  return groups.join('') + escapeUnits(variant.after);
}
