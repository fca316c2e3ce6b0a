import { COUNTRY_LANGUAGES } from './languages.js';

const names = new Map<string, readonly string[]>();

/** Names of a country in English, in its own languages and in those that much is written in, in small letters. Source: Unicode CLDR, by way of the engine. */
export function namesOfCountry(country: string): readonly string[] {
  const known = names.get(country);
  if (known) return known;
  const languages = new Set(['en', 'de', 'fr', 'es', ...(COUNTRY_LANGUAGES[country] ?? [])]);
  const found = [...languages].flatMap((language) => {
    const name = new Intl.DisplayNames([language], { type: 'region', fallback: 'none' }).of(country);
    return name === undefined ? [] : [name.toLowerCase()];
  });
  const made = [...new Set([...found, ...(ALSO[country] ?? [])])];
  names.set(country, made);
  return made;
}

/** What people also call a country, or where they name a part for the whole. */
const ALSO: Readonly<Record<string, readonly string[]>> = { GB: ['great britain', 'england', 'scotland', 'wales'], US: ['usa', 'u.s.', 'new york', 'california', 'florida', 'texas'], NL: ['holland'], CZ: ['czech republic'] };
