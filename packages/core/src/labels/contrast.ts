const COLOUR = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i;

/** Whether text is a colour as labels write it: `#rrggbb`. */
export function isColour(text: string): boolean {
  return COLOUR.test(text);
}

/** Relative luminance, 0 for black to 1 for white (WCAG 2.2, definition of relative luminance). */
function luminance(colour: string): number {
  const parts = COLOUR.exec(colour)?.slice(1) ?? ['00', '00', '00'];
  const [red = 0, green = 0, blue = 0] = parts.map((part) => {
    const share = Number.parseInt(part, 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

/** Contrast ratio of two colours, 1 to 21 (WCAG 2.2, definition of contrast ratio). */
export function contrast(one: string, other: string): number {
  const [dark = 0, light = 0] = [luminance(one), luminance(other)].sort((left, right) => left - right);
  return (light + 0.05) / (dark + 0.05);
}

const PAPER = '#ffffff';
const INK = '#000000';
/** Text from this size counts as large (WCAG 2.2, definition of large scale). */
const LARGE_POINTS = 18;
/** Least contrast of small and large text (WCAG 2.2, 1.4.3). */
const TEXT_LEAST = 4.5;
const LARGE_LEAST = 3;
/** Fainter, and a line across the page is lost in print. Common practice, no source. */
const ACROSS_LEAST = 1.25;

/** What is wrong with the colour of a printed line. */
export type ColourFault = 'not-a-colour' | 'too-faint' | 'hides-text';

/**
 * Top and foot must be read on white paper. A line across the page must be seen on paper, and black text over it must
 * still be read.
 */
export function colourFault(
  place: 'top' | 'foot' | 'across',
  colour: string,
  points: number,
): ColourFault | null {
  if (!isColour(colour)) return 'not-a-colour';
  const onPaper = contrast(colour, PAPER);
  if (place !== 'across')
    return onPaper < (points >= LARGE_POINTS ? LARGE_LEAST : TEXT_LEAST) ? 'too-faint' : null;
  if (onPaper < ACROSS_LEAST) return 'too-faint';
  return contrast(colour, INK) < TEXT_LEAST ? 'hides-text' : null;
}
