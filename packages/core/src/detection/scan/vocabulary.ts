import type { ReadyPattern, WordListPattern } from '../model/pattern.js';
import { COUNTER, GENERAL, NAMING, NO_ROLE, SUPPORTING } from '../model/context.js';
import type { Prepared } from '../model/prepared.js';
import { type InsideEntry, InsideWords } from '../words/inside.js';
import { Dictionary, type DictionaryEntry, foldedWords } from '../words/dictionary.js';

/** What the dictionary's entry is for. */
export type Meaning =
  | { readonly kind: 'context'; readonly word: number }
  | { readonly kind: 'trigger'; readonly prepared: Prepared }
  | {
      readonly kind: 'listed';
      readonly list: WordListPattern;
      readonly entry: string;
      readonly weight: number;
    };

/** All words that a scanner knows: words around values, words that begin values, words of lists. */
export class Vocabulary {
  readonly dictionary: Dictionary;
  /** Words that are found inside longer ones too; null where no list asks for it. */
  readonly inside: InsideWords | null;
  readonly meanings: readonly Meaning[];
  /** Everything that is looked for, with the number of its meaning. */
  readonly entries: readonly (DictionaryEntry & { readonly meaning: number })[];
  /** Context words as they stand in the library, by number. */
  readonly words: readonly string[];
  private readonly roles: Uint8Array;
  private readonly patterns: number;

  constructor(prepared: readonly Prepared[], lists: readonly WordListPattern[]) {
    const words = new Map<string, { text: string; number: number }>();
    const entries: DictionaryEntry[] = [];
    const meanings: Meaning[] = [];
    const roles: [word: number, pattern: number, role: number][] = [];
    const numberOf = remembered((text) => {
      const capitals = text.startsWith('=');
      const plain = capitals ? text.slice(1) : text;
      const key = `${capitals ? '=' : ''}${foldedWords(plain).join(' ')}`;
      const known = words.get(key);
      if (known) return known.number;
      const number = words.size;
      words.set(key, { text: plain, number });
      entries.push({ text: plain, capitals, joined: !capitals });
      meanings.push({ kind: 'context', word: number });
      return number;
    });
    for (const each of prepared) {
      // The strongest meaning comes last and stays: a word is one thing to a pattern.
      for (const [list, role] of rolesOf(each.pattern)) {
        for (const word of list) roles.push([numberOf(word), each.index, role]);
      }
      if (each.recognition.by === 'trigger' && each.recognition.trigger.by === 'word') {
        for (const text of each.recognition.trigger.words) {
          entries.push({ text, capitals: false, joined: false });
          meanings.push({ kind: 'trigger', prepared: each });
        }
      }
    }
    for (const list of lists.filter((each) => !each.inside)) {
      for (const { text, weight } of list.words) {
        entries.push({ text, capitals: false, joined: false });
        meanings.push({ kind: 'listed', list, entry: text, weight });
      }
    }
    // Entries and meanings go together by number; what the dictionary does not look for comes last.
    const inside: InsideEntry[] = [];
    for (const list of lists.filter((each) => each.inside)) {
      for (const { text, weight } of list.words) {
        inside.push({ text, meaning: meanings.length });
        meanings.push({ kind: 'listed', list, entry: text, weight });
      }
    }
    this.inside = inside.length === 0 ? null : new InsideWords(inside);
    this.patterns = prepared.length;
    this.roles = new Uint8Array(words.size * prepared.length);
    for (const [word, pattern, role] of roles) this.roles[word * prepared.length + pattern] = role;
    this.words = [...words.values()].map((word) => word.text);
    this.meanings = meanings;
    this.entries = entries.map((entry, meaning) => ({ ...entry, meaning }));
    this.dictionary = new Dictionary(entries);
  }

  /** The strongest of what some words are to each pattern. */
  rolesOf(words: readonly number[]): Uint8Array {
    const roles = new Uint8Array(this.patterns);
    for (const word of words) {
      for (let pattern = 0; pattern < roles.length; pattern += 1) {
        const role = this.roleOf(word, pattern);
        if (role !== NO_ROLE && (roles[pattern] === NO_ROLE || role < roles[pattern]!)) roles[pattern] = role;
      }
    }
    return roles;
  }

  /** What a context word is to a pattern. */
  roleOf(word: number, pattern: number): number {
    return this.roles[word * this.patterns + pattern] ?? NO_ROLE;
  }
}

function rolesOf(pattern: ReadyPattern): [readonly string[], number][] {
  return [
    [pattern.counterWords, COUNTER],
    [pattern.supportingWords, SUPPORTING],
    [pattern.generalNames, GENERAL],
    [pattern.namingWords, NAMING],
  ];
}

/** The same answer for the same text, worked out once: most words stand in many patterns. */
function remembered(numberOf: (text: string) => number): (text: string) => number {
  const known = new Map<string, number>();
  return (text) => {
    const number = known.get(text) ?? numberOf(text);
    known.set(text, number);
    return number;
  };
}
