import type { AnswerText } from '../model/rule.js';

/** Fields that a text may hold in braces, filled in when a person reads it. */
export const TEXT_FIELDS = ['item', 'rule', 'found', 'values', 'to', 'guidance', 'contact'] as const;
export type TextField = (typeof TEXT_FIELDS)[number];
export type TextFacts = Readonly<Record<Exclude<TextField, 'guidance' | 'contact'>, string>>;

/** The words for a language, or the first where that language is missing; empty for a text without words. */
export function wordsFor(text: AnswerText, language: string): string {
  const own = text.words.find((words) => words.language === language && words.text.trim() !== '');
  return (own ?? text.words.find((words) => words.text.trim() !== ''))?.text ?? '';
}

/** A text as a person reads it. Braces that name no field stay as they are, so that a slip shows. */
export function renderText(text: AnswerText, language: string, facts: TextFacts): string {
  const values: Readonly<Record<TextField, string>> = {
    ...facts,
    guidance: text.guidance,
    contact: text.contact,
  };
  return wordsFor(text, language).replace(/\{([a-z]+)\}/g, (whole, name: string) =>
    Object.hasOwn(values, name) ? values[name as TextField] : whole,
  );
}

/** Names in braces that are no field, each once. */
export function unknownFields(text: AnswerText): string[] {
  const names = text.words.flatMap(({ text: words }) =>
    [...words.matchAll(/\{([a-z]+)\}/g)].map((match) => match[1] ?? ''),
  );
  return [...new Set(names.filter((name) => !TEXT_FIELDS.some((field) => field === name)))];
}
