/** Where on a page a line is printed. */
export const MARK_PLACES = ['top', 'foot', 'across'] as const;
export type MarkPlace = (typeof MARK_PLACES)[number];

/** Facts that a line can hold in braces. */
export const MARK_FIELDS = ['label', 'family', 'rank', 'handling', 'owner', 'setter', 'date', 'how'] as const;
export type MarkField = (typeof MARK_FIELDS)[number];

export const MARK_POINTS = { least: 6, most: 96 } as const;
/** Steepest slant of a line across the page, in degrees. */
export const MAX_SLANT = 60;
/** Longest line; more does not fit across a page. */
export const MAX_MARK_LENGTH = 200;

/** One line printed at one place. */
export interface Marking {
  readonly place: MarkPlace;
  /** Text with fields in braces. */
  readonly text: string;
  /** Size in points. */
  readonly points: number;
  /** `#rrggbb`. */
  readonly colour: string;
  /** Degrees by which the line rises to the right; only across. */
  readonly slant: number;
}
