/** A colour of the page by its name, so that charts follow its theme. */
export function colourOf(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}
