import type { EvidencePart } from '@lantern/contracts';
import type { SpecimenFields } from '../../data/specimens';

/** Characters of one specimen: enough to show how values stand, and judged while somebody types. */
const LONGEST_TEXT = 20_000;

/** Patterns that evidence holds values of. */
export function patternsShown(parts: readonly EvidencePart[]): string[] {
  const pieces = parts.flatMap((part) => part.excerpts.flatMap((excerpt) => excerpt.pieces));
  return [...new Set(pieces.flatMap((piece) => ('pattern' in piece ? [piece.pattern] : [])))];
}

/**
 * Evidence as a specimen of one pattern under a name: every excerpt with a value of it, and those values as what
 * should be found, or nothing where they are false. The evidence must be unmasked.
 */
export function asSpecimen(
  { name, parts }: { readonly name: string; readonly parts: readonly EvidencePart[] },
  pattern: string,
  meant: boolean,
): SpecimenFields {
  const excerpts = parts
    .flatMap((part) => part.excerpts)
    .filter(({ pieces }) => pieces.some((piece) => 'pattern' in piece && piece.pattern === pattern));
  const text: string[] = [];
  const values = new Set<string>();
  let length = 0;
  for (const { pieces } of excerpts) {
    const written = pieces.map((piece) => piece.text).join('');
    // Whole excerpts only: a value that is cut would be missed for no fault of the pattern.
    if (length + written.length > LONGEST_TEXT) break;
    length += written.length + 2;
    text.push(written);
    for (const piece of pieces)
      if (meant && 'pattern' in piece && piece.pattern === pattern) values.add(piece.text);
  }
  return {
    name,
    text: text.join('\n\n'),
    expected: [{ pattern, values: [...values] }],
  };
}
