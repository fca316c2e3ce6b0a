import {
  type ExpressionPattern,
  MAX_EXPRESSION,
  MAX_WEIGHT,
  OWN_CHECKS,
  type OwnCheck,
  type OwnPattern,
  type PatternKind,
  type PatternWeights,
} from '@lantern/core/detection';
import { type WholeLabelSet } from '@lantern/core/labels';
import { type PolicySet } from '@lantern/core/policy';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';
import {
  MAX_CONTEXT_WORDS,
  MAX_EXCLUSIONS,
  MAX_NAME_LENGTH,
  MAX_PASTE_LENGTH,
  MAX_TEXT_LENGTH,
} from './limits.js';
import type { DraftState } from './policies.js';
import type { DocumentsDetail } from './documents.js';
import type { RecordsDetail } from './records.js';

/** Largest sum that is asked of a list. */
const MAX_THRESHOLD = 1_000;

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

  /** Log-odds that the different words of one text must come to; null or left out where each stands for itself. */
  @IsOptional()
  @IsNumber()
  @Min(-MAX_WEIGHT)
  @Max(MAX_THRESHOLD)
  threshold?: number | null;

  /** Words are found inside longer ones too; whole words only where left out. */
  @IsOptional()
  @IsBoolean()
  inside?: boolean;
}

export class SaveWordListRequest extends WordListRequest {
  @IsInt()
  @Min(1)
  version: number;
}

/** Longest word beside a value and longest excluded value, in characters. */
const MAX_WORD = 200;
/** Words further away than the usual window say nothing. */
const MOST_WORD_DISTANCE = 60;

export class RangeRequest {
  @IsString()
  @MaxLength(40)
  @Matches(/\d/, { message: 'A range needs digits' })
  from: string;

  @IsString()
  @MaxLength(40)
  @Matches(/\d/, { message: 'A range needs digits' })
  to: string;
}

export class ExclusionsRequest {
  @IsArray()
  @ArrayMaxSize(MAX_EXCLUSIONS)
  @IsString({ each: true })
  @MaxLength(MAX_WORD, { each: true })
  values: string[];

  @IsArray()
  @ArrayMaxSize(MAX_EXCLUSIONS)
  @IsString({ each: true })
  @MinLength(1, { each: true })
  @MaxLength(MAX_WORD, { each: true })
  words: string[];

  @IsArray()
  @ArrayMaxSize(MAX_EXCLUSIONS)
  @ValidateNested({ each: true })
  @Type(() => RangeRequest)
  ranges: RangeRequest[];
}

export class ExpressionWeightsRequest {
  @IsNumber()
  @Min(-MAX_WEIGHT)
  @Max(MAX_WEIGHT)
  shape: number;

  @IsNumber()
  @Min(-MAX_WEIGHT)
  @Max(MAX_WEIGHT)
  namingWord: number;

  @IsNumber()
  @Min(-MAX_WEIGHT)
  @Max(MAX_WEIGHT)
  supportingWord: number;

  @IsNumber()
  @Min(-MAX_WEIGHT)
  @Max(MAX_WEIGHT)
  counterWord: number;
}

export class ExpressionRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  about: string;

  @IsString()
  @MinLength(1)
  @MaxLength(MAX_EXPRESSION)
  expression: string;

  @IsBoolean()
  caseMatters: boolean;

  @IsIn([...OWN_CHECKS])
  check: OwnCheck;

  @IsArray()
  @ArrayMaxSize(MAX_CONTEXT_WORDS)
  @IsString({ each: true })
  @MaxLength(MAX_WORD, { each: true })
  namingWords: string[];

  @IsArray()
  @ArrayMaxSize(MAX_CONTEXT_WORDS)
  @IsString({ each: true })
  @MaxLength(MAX_WORD, { each: true })
  supportingWords: string[];

  @IsArray()
  @ArrayMaxSize(MAX_CONTEXT_WORDS)
  @IsString({ each: true })
  @MaxLength(MAX_WORD, { each: true })
  counterWords: string[];

  @IsInt()
  @Min(1)
  @Max(MOST_WORD_DISTANCE)
  wordDistance: number;

  @ValidateNested()
  @Type(() => ExclusionsRequest)
  exclusions: ExclusionsRequest;

  @ValidateNested()
  @Type(() => ExpressionWeightsRequest)
  weights: ExpressionWeightsRequest;
}

export class SaveExpressionRequest extends ExpressionRequest {
  @IsInt()
  @Min(1)
  version: number;
}

export class SaveWeightsRequest {
  /** Log-odds by name of the weight; the ones that are left out stay as they ship. */
  @IsObject()
  weights: Record<string, number>;

  /** The version that was edited; 0 where nothing was changed so far. */
  @IsInt()
  @Min(0)
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
  /** Other names, in the languages of its country. */
  readonly otherNames: readonly string[];
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
  /** How it is recognised, in a few words: check methods, or what else it rests on. */
  readonly check: string;
  /** Decided incidents that held findings of it, and how many of them were false positives. */
  readonly decided: number;
  readonly falsePositives: number;
}

export interface PatternDetail extends PatternSummary {
  readonly ready: {
    readonly shapes: readonly string[];
    /** Share of accidental values of its shape that pass all checks, 0 to 1. */
    readonly accidentalShare: number;
    /** As they ship. */
    readonly weights: PatternWeights;
    /** Those that the draft replaces. */
    readonly draftWeights: Partial<PatternWeights>;
    /** Version of the draft weights, 0 where there are none. */
    readonly version: number;
    readonly changedBy: string | null;
    readonly testValues: readonly string[];
    readonly namingWords: readonly string[];
    readonly supportingWords: readonly string[];
    readonly counterWords: readonly string[];
    readonly examples: { readonly passing: readonly string[]; readonly nearMisses: readonly string[] };
  } | null;
  readonly own: {
    readonly text: string;
    /** What the words must come to together; null where each stands for itself. */
    readonly threshold: number | null;
    readonly inside: boolean;
    readonly version: number;
    readonly updatedAt: string;
    readonly updatedBy: string;
    /** Null for a word list. */
    readonly expression: ExpressionPattern | null;
  } | null;
  /** Null for all but own records. */
  readonly records: RecordsDetail | null;
  /** Null for all but own documents. */
  readonly documents: DocumentsDetail | null;
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
  readonly own: readonly OwnPattern[];
  readonly set: PolicySet;
  /** Automatic rules label first; policies see the labelled item. */
  readonly labels: WholeLabelSet;
}
