import type {
  Automatic,
  AutomaticOutcome,
  Carrier,
  Label,
  LabelledHow,
  LabelProblem,
  LabelShift,
  Offer,
} from '@lantern/core/labels';
import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsISO8601,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { MAX_TEXT_LENGTH } from './limits.js';
import type { DraftState, SetFault } from './policies.js';
import { IsShape } from './shape.js';

/** Why something was changed; it belongs to the history, not to the label. */
class Noted {
  @IsOptional()
  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  note?: string;
}

export class LabelRequest extends Noted {
  /** A label without its id; see the published JSON Schema. */
  @IsShape('label')
  label: Omit<Label, 'id'>;
}
export class SaveLabelRequest extends LabelRequest {
  @IsInt()
  @Min(1)
  version: number;
}
export class OfferRequest extends Noted {
  @IsShape('offer')
  offer: Omit<Offer, 'id'>;
}
export class SaveOfferRequest extends OfferRequest {
  @IsInt()
  @Min(1)
  version: number;
}
export class AutomaticRequest extends Noted {
  @IsShape('automatic')
  automatic: Omit<Automatic, 'id'>;
}
export class SaveAutomaticRequest extends AutomaticRequest {
  @IsInt()
  @Min(1)
  version: number;
}

interface Drafted {
  readonly version: number;
  readonly state: DraftState;
  readonly problems: readonly LabelProblem[];
  readonly updatedAt: string;
  readonly updatedBy: string;
}

export interface LabelView extends Drafted {
  readonly label: Label;
  /** Names of offers and automatic rules that use it. */
  readonly offers: readonly { readonly id: string; readonly name: string }[];
  readonly automatic: readonly { readonly id: string; readonly name: string }[];
  /** Documents and files of places that carry it. */
  readonly items: number;
}

export interface OfferView extends Drafted {
  readonly offer: Offer;
  /** How many people of the directory it names. */
  readonly people: number;
}

export interface AutomaticView extends Drafted {
  readonly automatic: Automatic;
}

/** Everything drafted about labels, in the order that people are shown. */
export interface LabelsView {
  readonly labels: readonly LabelView[];
  readonly offers: readonly OfferView[];
  readonly automatic: readonly AutomaticView[];
}

/** A change of a label, an offer or a rule as its history tells it. */
export interface LabelHistoryEntry {
  readonly at: string;
  readonly by: string;
  readonly note: string;
  /** Fields that changed, each as it was and as it is. */
  readonly fields: readonly {
    readonly field: string;
    readonly before: string | null;
    readonly after: string | null;
  }[];
}

/** What publishing the drafts changes for people. */
export interface LabelReview {
  readonly problems: readonly LabelProblem[];
  /** People whose choice changes, with what they are told. */
  readonly people: readonly {
    readonly address: string;
    readonly name: string;
    readonly carrier: Carrier;
    readonly gains: readonly string[];
    readonly loses: readonly string[];
    readonly otherTerms: boolean;
    readonly from: string | null;
    readonly telling: string;
  }[];
  readonly disagreements: readonly {
    readonly carrier: Carrier;
    readonly first: string;
    readonly second: string;
    readonly people: readonly string[];
  }[];
  readonly signOffs: readonly SignOffView[];
  /** Of labels and offers as they stand: what a sign-off is about. */
  readonly fingerprint: string;
}

/** What the business says about the drafted labels. */
export class SignOffRequest {
  @IsBoolean()
  agrees: boolean;

  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  words: string;

  /** Fingerprint of the set that was read; another on the server refuses. */
  @IsString()
  @MaxLength(64)
  fingerprint: string;
}
export interface SignOffView {
  readonly by: string;
  readonly at: string;
  readonly agrees: boolean;
  readonly words: string;
  /** It is about the drafts as they stand now. */
  readonly current: boolean;
}

export interface LabelSetText {
  readonly text: string;
  /** Fingerprint of labels and offers as they stand. */
  readonly fingerprint: string;
}
export class ImportLabelsRequest {
  @IsString()
  @MaxLength(2_000_000)
  text: string;

  @IsBoolean()
  onlyLook: boolean;
}
export interface ImportLabelsResult {
  readonly faults: readonly SetFault[];
  readonly changes: readonly {
    readonly kind: string;
    readonly name: string;
    readonly state: Exclude<DraftState, 'published'>;
  }[];
}

/** A change of the label of an item. No content. */
export interface LabelChangeRow {
  readonly id: number;
  readonly at: string;
  readonly by: string;
  readonly how: LabelledHow;
  readonly shift: Exclude<LabelShift, 'same'>;
  readonly carrier: Carrier;
  readonly item: string;
  readonly before: { readonly name: string; readonly rank: number } | null;
  readonly after: { readonly name: string; readonly rank: number } | null;
  readonly reason: string;
}

/** Lists travel in addresses as words divided by commas. */
const words = ({ value }: { value: unknown }): unknown =>
  typeof value === 'string' ? value.split(',').filter((each) => each !== '') : value;

export class LabelChangeQuery {
  @IsOptional()
  @Transform(words)
  @IsArray()
  @IsIn(['set', 'raised', 'lowered', 'removed'], { each: true })
  shift?: string[];

  @IsOptional()
  @Transform(words)
  @IsArray()
  @IsIn(['by-hand', 'automatically', 'inherited'], { each: true })
  how?: string[];

  /** Part of a person's or an item's name. */
  @IsOptional()
  @IsString()
  @MaxLength(200)
  search?: string;

  @IsOptional()
  @IsString()
  @MaxLength(60)
  label?: string;

  @IsOptional()
  @IsISO8601({ strict: true, strictSeparator: true })
  from?: string;

  /** The first instant after the period. */
  @IsOptional()
  @IsISO8601({ strict: true, strictSeparator: true })
  to?: string;
}
export interface LabelChangePage {
  readonly rows: readonly LabelChangeRow[];
  readonly total: number;
  /** Of what the other filters leave, how many of each. */
  readonly counts: Readonly<Record<string, number>>;
}

/** A place that holds files. */
export interface PlaceView {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly owner: string;
  readonly sharedOutside: readonly string[];
  readonly files: number;
  readonly bytes: number;
}

export const RUN_STATES = ['waiting', 'running', 'done', 'stopped', 'cut-off', 'failed', 'undone'] as const;
export type LabelRunState = (typeof RUN_STATES)[number];

export class LabelRunRequest {
  /** `look` changes nothing. */
  @IsIn(['look', 'label'])
  does: 'look' | 'label';

  /** A finished look that is to be carried out exactly: its places, its rules as they were, its pace. */
  @IsOptional()
  @IsUUID()
  look?: string;

  /** Places to go through; empty for all. */
  @IsArray()
  @ArrayMaxSize(500)
  @IsUUID(undefined, { each: true })
  places: string[];

  /** Rules to go by; empty for all drafted ones. */
  @IsArray()
  @ArrayMaxSize(200)
  @IsUUID(undefined, { each: true })
  rules: string[];

  /** Files a second at most; left out for no limit. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1_000)
  pace?: number;
}

/** What a run is expected to cost, before it starts. */
export interface LabelRunExpectation {
  readonly files: number;
  readonly bytes: number;
  /** Going by earlier runs on this machine, or by a guess where there was none. */
  readonly seconds: number;
  readonly guessed: boolean;
  readonly empty: readonly string[];
  /** People whom rules name and who have no place yet: passed over, and covered from the day they have one. */
  readonly withoutPlace: readonly string[];
}

export interface LabelRunView {
  readonly id: string;
  readonly does: 'look' | 'label';
  readonly state: LabelRunState;
  readonly startedAt: string;
  readonly startedBy: string;
  readonly total: number;
  readonly seen: number;
  readonly seconds: number;
  readonly pace: number | null;
  readonly places: readonly string[];
  readonly outcomes: Readonly<Record<string, number>>;
  readonly unreadable: number;
  readonly failed: number;
  readonly byPlace: Readonly<Record<string, number>>;
  readonly byLabel: Readonly<Record<string, { readonly before: number; readonly after: number }>>;
  readonly byPattern: Readonly<Record<string, number>>;
}

export interface LabelRunItem {
  readonly id: number;
  readonly place: string;
  readonly path: string;
  readonly outcome: AutomaticOutcome | 'unreadable' | 'failed';
  readonly label: string | null;
  readonly before: string | null;
  readonly beforeHow: LabelledHow | null;
  readonly rule: string | null;
  readonly outranked: readonly string[];
  readonly held: readonly { readonly pattern: string; readonly count: number }[];
  readonly reason: string | null;
  readonly applied: boolean;
}
export class LabelRunItemsQuery {
  @IsOptional()
  @IsString()
  @MaxLength(40)
  outcome?: string;

  @IsOptional()
  @IsString()
  @MaxLength(200)
  search?: string;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  after?: number;
}
export interface LabelRunPage {
  readonly items: readonly LabelRunItem[];
  readonly total: number;
}
