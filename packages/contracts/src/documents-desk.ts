import type { Clause, Cost, Effect, Following } from '@lantern/core/labels';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  Min,
  MinLength,
} from 'class-validator';
import type { LabelChangeRow } from './labels.js';
import { OverrideRequest, type PersonNotice, ReplyRequest } from './mail.js';
import { MAX_TEXT_LENGTH } from './limits.js';

/** A label as somebody sees it who chooses. */
export interface ChoiceView {
  readonly id: string;
  readonly name: string;
  readonly rank: number;
  readonly family: string;
  readonly colour: string;
  readonly when: string;
  readonly not: string;
  readonly handling: string;
  /** Effects for which the person who sets it names people. */
  readonly namesFor: readonly Effect[];
}
export interface ChooserView {
  readonly labels: readonly ChoiceView[];
  readonly starts: { readonly kind: 'bare' | 'proposed' | 'preset'; readonly label: string | null };
  readonly needsLabel: boolean;
  readonly lowering: Cost;
  readonly follows: Following;
}

export interface LeaveView {
  readonly effect: Effect;
  readonly allowed: boolean;
  readonly clause: Clause;
}

export interface DocumentSummary {
  readonly id: string;
  readonly name: string;
  readonly owner: { readonly name: string; readonly address: string };
  readonly label: { readonly id: string; readonly name: string; readonly colour: string } | null;
  readonly mine: boolean;
  readonly updatedAt: string;
}
export interface DocumentDetail extends DocumentSummary {
  readonly version: number;
  readonly paragraphs: readonly string[];
  readonly marks: readonly {
    readonly place: string;
    readonly line: string;
    readonly points: number;
    readonly colour: string;
    readonly slant: number;
  }[];
  readonly leaves: readonly LeaveView[];
  readonly named: Readonly<Partial<Record<Effect, readonly string[]>>>;
  readonly sharedWith: readonly string[];
  /** People it was to be shared with and is not: what waits, what was refused, what was withdrawn. */
  readonly shares: readonly {
    readonly id: string;
    readonly address: string;
    readonly state: 'open' | 'waiting' | 'refused' | 'withdrawn';
    readonly notice: PersonNotice | null;
    readonly reported: boolean;
  }[];
  /** A label that its content calls for, with the rule's name; null for none. */
  readonly suggestion: LabelSuggestion | null;
  readonly waiting: { readonly label: string | null; readonly reason: string } | null;
  /** Labels of other makers found in the file. */
  readonly foreign: readonly {
    readonly field: string;
    readonly value: string;
    readonly label: string | null;
  }[];
  readonly changes: readonly LabelChangeRow[];
}
/** What a person wants of the label of something. */
export class LabelWishRequest {
  /** Null for none. */
  @IsOptional()
  @IsUUID()
  label: string | null;

  /** Why the label goes down or comes off, where that is asked for. */
  @IsOptional()
  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  reason?: string;
}

export class SaveDocumentRequest extends LabelWishRequest {
  @IsUUID()
  person: string;

  @IsString()
  @MinLength(1)
  @MaxLength(200)
  name: string;

  @IsArray()
  @ArrayMaxSize(5_000)
  @IsString({ each: true })
  @MaxLength(100_000, { each: true })
  paragraphs: string[];

  /** People for effects that the label leaves to whoever sets it. */
  @IsOptional()
  @IsObject()
  named?: Partial<Record<Effect, string[]>>;

  @IsArray()
  @ArrayMaxSize(200)
  @IsString({ each: true })
  @MaxLength(254, { each: true })
  sharedWith: string[];

  @IsOptional()
  @IsInt()
  @Min(1)
  version?: number;
}
/** A label that something calls for while it is written, with the rule's name. */
export interface LabelSuggestion {
  readonly label: string;
  readonly name: string;
  readonly rule: string;
  /** It is set by itself as the item goes; else it is only proposed. */
  readonly applied: boolean;
}
export class SuggestRequest {
  @IsString()
  @MaxLength(1_000_000)
  text: string;

  /** What is chosen by now; null for nothing. */
  @IsOptional()
  @IsUUID()
  label?: string | null;

  /** Whether somebody outside is to get it. */
  @IsOptional()
  @IsBoolean()
  sharedOutside?: boolean;
}
/** Something a person tries with a document. */
export class TryRequest {
  @IsUUID()
  person: string;

  @IsIn(['take-out', 'make-another', 'pass-on'])
  effect: 'take-out' | 'make-another' | 'pass-on';

  /** To whom it is passed on. */
  @IsOptional()
  @IsString()
  @MaxLength(254)
  to?: string;
}
export class DecideLoweringRequest {
  @IsUUID()
  person: string;

  @IsBoolean()
  agrees: boolean;
}

/** The person's reply to a question about a share of theirs. */
export class ShareReplyRequest extends ReplyRequest {
  @IsUUID()
  person: string;
}
/** What the person says about a share of theirs. */
export class ShareWordsRequest extends OverrideRequest {
  @IsUUID()
  person: string;
}
