import { foldWord, tokensOf } from './word-list.js';
import type { WordListPattern } from './pattern.js';

/** One place where an entry of a list stands, in offsets of the searched text. */
export interface WordHit {
  readonly pattern: WordListPattern;
  readonly entry: string;
  readonly weight: number;
  readonly start: number;
  readonly end: number;
}

interface Phrase {
  readonly pattern: WordListPattern;
  readonly entry: string;
  readonly weight: number;
  readonly tokens: readonly string[];
}

interface Token {
  readonly folded: string;
  readonly start: number;
  readonly end: number;
}

const TOKEN = /[\p{L}\p{N}\p{M}]+/gu;

/** Words and phrases of all lists under their first word; whole words only, phrases across any spacing. */
export class WordIndex {
  private readonly byFirst = new Map<string, Phrase[]>();
  private longest = 0;

  constructor(patterns: readonly WordListPattern[]) {
    for (const pattern of patterns) {
      for (const { text, weight } of pattern.words) {
        const tokens = tokensOf(text);
        const first = tokens[0];
        if (first === undefined) continue;
        const phrases = this.byFirst.get(first) ?? [];
        phrases.push({ pattern, entry: text, weight, tokens });
        this.byFirst.set(first, phrases);
        this.longest = Math.max(this.longest, tokens.length);
      }
    }
  }

  /** Every place of every entry; a longer phrase does not hide the words inside it. */
  *search(text: string): Generator<WordHit> {
    if (this.byFirst.size === 0) return;
    let window: Token[] = [];
    for (const match of text.matchAll(TOKEN)) {
      window.push({ folded: foldWord(match[0]), start: match.index, end: match.index + match[0].length });
      if (window.length < this.longest) continue;
      yield* this.hitsAt(window);
      window = window.slice(1);
    }
    for (; window.length > 0; window = window.slice(1)) yield* this.hitsAt(window);
  }

  private *hitsAt(window: readonly Token[]): Generator<WordHit> {
    const first = window[0];
    if (!first) return;
    for (const phrase of this.byFirst.get(first.folded) ?? []) {
      const last = window[phrase.tokens.length - 1];
      if (!last || !phrase.tokens.every((token, index) => window[index]?.folded === token)) continue;
      yield {
        pattern: phrase.pattern,
        entry: phrase.entry,
        weight: phrase.weight,
        start: first.start,
        end: last.end,
      };
    }
  }
}
