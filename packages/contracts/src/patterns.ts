import type { PatternKind, PatternWeights, WordListPattern, Policy } from '@lantern/core';
import { IsInt, IsString, MaxLength, Min, MinLength } from 'class-validator';
import { MAX_NAME_LENGTH, MAX_PASTE_LENGTH, MAX_TEXT_LENGTH } from './limits.js';
import type { DraftState } from './policies.js';

export class WordListRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  about: string;

  /** One word or phrase a line; a tab and a number give its weight. */
  @IsString()
  @MaxLength(MAX_PASTE_LENGTH)
  words: string;
}

export class SaveWordListRequest extends WordListRequest {
  @IsInt()
  @Min(1)
  version: number;
}

/** What became of the pasted lines. */
export interface WordListOutcome {
  readonly kept: number;
  readonly blankLines: number;
  readonly duplicates: number;
  readonly tooLong: readonly number[];
  readonly withoutLetters: readonly number[];
  readonly overLimit: number;
}

export interface PatternSummary {
  readonly id: string;
  readonly name: string;
  readonly kind: PatternKind;
  readonly origin: 'ready' | 'own';
  readonly countries: readonly string[];
  readonly about: string;
  readonly source: string;
  /** Names of draft policies whose rules look for it. */
  readonly usedBy: readonly string[];
  readonly state: DraftState;
  /** Entries of a word list; 0 for others. */
  readonly words: number;
}

export interface PatternDetail extends PatternSummary {
  readonly ready: {
    readonly checkName: string;
    readonly accidentalShare: number;
    readonly weights: PatternWeights;
    readonly supportingWords: readonly string[];
    readonly counterWords: readonly string[];
    readonly examples: { readonly passing: readonly string[]; readonly nearMisses: readonly string[] };
  } | null;
  readonly own: {
    readonly text: string;
    readonly version: number;
    readonly updatedAt: string;
    readonly updatedBy: string;
  } | null;
}

export interface SavedWordList {
  readonly pattern: PatternDetail;
  readonly outcome: WordListOutcome;
}

/** What the Lantern runs in the browser. */
export interface LanternSet {
  readonly published: LanternSide | null;
  readonly drafts: LanternSide;
  readonly ownDomains: readonly string[];
}

export interface LanternSide {
  readonly revision: number | null;
  readonly wordLists: readonly WordListPattern[];
  readonly policies: readonly Policy[];
}
