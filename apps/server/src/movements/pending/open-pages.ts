/**
 * How long a page counts as open after it last said so. Browsers let a page in the background speak once a minute; half a
 * minute on top is for slow ways.
 */
export const OPEN_PAGE_MS = 90_000;

/** How long after a page said that it closes: one that is only loaded anew is back before. */
export const CLOSING_PAGE_MS = 20_000;

/** Until when a page counts as open after it was heard of at `now`. */
export function openUntil(isOpen: boolean, now: Date): Date {
  return new Date(now.getTime() + (isOpen ? OPEN_PAGE_MS : CLOSING_PAGE_MS));
}
