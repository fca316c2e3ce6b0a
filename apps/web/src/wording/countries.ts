const NAMES = new Intl.DisplayNames(['en'], { type: 'region', fallback: 'code' });

/** Name of a country by its ISO 3166-1 alpha-2 code. */
export function countryName(code: string): string {
  return NAMES.of(code) ?? code;
}
