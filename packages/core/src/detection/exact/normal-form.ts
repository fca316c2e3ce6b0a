import type { ColumnKind } from '../model/record-shape.js';
import { toSearchText } from '../../text/search-text.js';
import { foldedWords } from '../words/dictionary.js';

/** Words of the longest name or free text that is looked for. */
export const MOST_WORDS = 6;
/** Digits of a telephone number that are compared, from its end: the rest is how one dials from where. */
const PHONE_DIGITS = 9;
const LEAST_PHONE_DIGITS = 6;
/** Letters and digits of the shortest number that may match: shorter ones are everywhere. */
export const LEAST_NUMBER = 4;
export const MOST_NUMBER = 40;

/** The one form of a value in all its ways of writing; empty where it is nothing that can be looked for. */
export function normalForm(kind: ColumnKind, value: string): string {
  const text = toSearchText(value).text.trim();
  switch (kind) {
    case 'number':
      return numberForm(text.replace(/[^\p{L}\p{N}]/gu, ''));
    case 'mail':
      return /^[^\s@]{1,64}@[^\s@]{1,255}$/.test(text) ? text.toLowerCase() : '';
    case 'phone':
      return phoneForm(text);
    case 'name':
      return nameForm(foldedWords(text));
    case 'date':
      return dateForms(text)[0] ?? '';
    case 'free': {
      const words = foldedWords(text);
      return words.length > MOST_WORDS ? '' : words.join(' ');
    }
  }
}

export const numberForm = (bare: string): string =>
  bare.length >= LEAST_NUMBER && bare.length <= MOST_NUMBER && /\d/.test(bare) ? bare.toUpperCase() : '';

export function phoneForm(text: string): string {
  const digits = text.replace(/\D/g, '');
  return digits.length < LEAST_PHONE_DIGITS ? '' : digits.slice(-PHONE_DIGITS);
}

/** The words of a name in any order: "Brandt, Ada" is "Ada Brandt". */
export function nameForm(words: readonly string[]): string {
  const kept = words.filter((word) => word.length > 1);
  return kept.length === 0 || kept.length > MOST_WORDS ? '' : [...kept].sort().join(' ');
}

/** Days that a written date may mean, as year, month and day: two where day and month could change places. */
export function dateForms(text: string): string[] {
  const parts = /^\D*(\d{1,4})\D{1,2}(\d{1,2})\D{1,2}(\d{1,4})(?:\D.*)?$/s.exec(text);
  if (!parts) return [];
  const [first, second, third] = parts.slice(1).map(Number) as [number, number, number];
  if ((parts[1] ?? '').length === 4) return [day(first, second, third)].filter((form) => form !== '');
  const year =
    (parts[3] ?? '').length === 4 ? third : (parts[3] ?? '').length === 2 ? 2000 + third : Number.NaN;
  const forms = [day(year, second, first), day(year, first, second)].filter((form) => form !== '');
  return [
    ...new Set(
      (parts[3] ?? '').length === 2 ? forms.flatMap((form) => [form, form.replace(/^20/, '19')]) : forms,
    ),
  ];
}

function day(year: number, month: number, date: number): string {
  if (!(year >= 1850 && year <= 2150 && month >= 1 && month <= 12 && date >= 1 && date <= 31)) return '';
  return `${year}-${String(month).padStart(2, '0')}-${String(date).padStart(2, '0')}`;
}
