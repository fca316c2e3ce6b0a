import { CHANNELS } from '@lantern/core/movement';
import type { Evidence } from '@lantern/core/detection';
import type {
  DecisionAct,
  HarmCause,
  IncidentCount,
  IncidentStatus,
  Outcome,
  Urgency,
} from '@lantern/core/incidents';
import type {
  Channel,
  Connection,
  PartRole,
  LinkKind,
  Machine,
  NetworkState,
  Spot,
  UnreadableReason,
} from '@lantern/core/movement';
import type { Answer, Policy, Severity, Verdict } from '@lantern/core/policy';
import { HARM_CAUSES } from '@lantern/core/incidents';
import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsISO8601,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  Min,
  MinLength,
  ValidateIf,
} from 'class-validator';
import { MAX_TEXT_LENGTH } from './limits.js';

/** Row of the queue: what a glance needs, no content. */
export interface IncidentRow {
  readonly number: number;
  readonly at: string;
  readonly status: IncidentStatus;
  readonly outcome: Outcome | null;
  readonly severity: Severity;
  readonly urgency: number;
  readonly answer: Answer;
  readonly channel: Channel;
  readonly person: { readonly name: string; readonly address: string; readonly department: string };
  /** Domains outside first. */
  readonly destinations: readonly string[];
  readonly recipients: number;
  readonly counts: readonly IncidentCount[];
  readonly unreadableParts: number;
  readonly matches: number;
  readonly assignee: string | null;
  readonly silent: boolean;
  /** The person who moved it says that what was found is none. */
  readonly reported: boolean;
  readonly version: number;
}

export interface IncidentPage {
  readonly rows: readonly IncidentRow[];
  readonly total: number;
  readonly matches: number;
}

export const INCIDENT_ORDERS = ['urgency', 'newest', 'oldest'] as const;
export type IncidentOrder = (typeof INCIDENT_ORDERS)[number];

const toList = ({ value }: { value: unknown }): unknown =>
  typeof value === 'string' ? value.split(',').filter(Boolean) : value;

export class IncidentQuery {
  @IsOptional()
  @IsIn(['open', 'decided', 'all'])
  show?: 'open' | 'decided' | 'all';

  @IsOptional()
  @Transform(toList)
  @IsArray()
  @ArrayMaxSize(4)
  @IsIn(['low', 'medium', 'high', 'critical'], { each: true })
  severity?: Severity[];

  @IsOptional()
  @Transform(toList)
  @IsArray()
  @ArrayMaxSize(5)
  @IsIn(['note', 'advise', 'ask', 'hold', 'block'], { each: true })
  answer?: Answer[];

  @IsOptional()
  @IsString()
  @MaxLength(120)
  pattern?: string;

  @IsOptional()
  @IsString()
  @MaxLength(120)
  policy?: string;

  @IsOptional()
  @IsString()
  @MaxLength(120)
  department?: string;

  @IsOptional()
  @IsISO8601()
  since?: string;

  @IsOptional()
  @IsIn([...CHANNELS])
  channel?: Channel;

  /** Only those that the person calls a false finding. */
  @IsOptional()
  @IsIn(['yes'])
  reported?: 'yes';

  /** Incidents of rules that something kept from answering as written: a ceiling, or that the item was made before. */
  @IsOptional()
  @IsIn(['ceiling', 'made-before'])
  cut?: 'ceiling' | 'made-before';

  /** Person, department, destination or incident number. */
  @IsOptional()
  @IsString()
  @MaxLength(200)
  search?: string;

  @IsOptional()
  @IsIn([...INCIDENT_ORDERS])
  order?: IncidentOrder;
}

/** Piece of an excerpt: plain text, or a finding in it. */
export type ExcerptPiece =
  | { readonly text: string }
  | {
      readonly text: string;
      readonly pattern: string;
      readonly certainty: number;
      readonly evidence: readonly Evidence[];
      /** Address of its cell; only in sheets. */
      readonly cell?: string;
    };

export interface EvidencePart {
  readonly role: PartRole;
  readonly path: readonly string[];
  readonly unreadable: UnreadableReason | null;
  readonly findings: number;
  readonly excerpts: readonly { readonly line: number; readonly pieces: readonly ExcerptPiece[] }[];
  /** Findings that are not shown because the excerpts are full. */
  readonly notShown: number;
}

export interface MovementWayView {
  readonly activity: string | null;
  readonly from: readonly Spot[];
  readonly into: readonly Spot[];
  readonly link: LinkKind | null;
  readonly connection: Connection | null;
  readonly machine: Machine | null;
  readonly network: NetworkState | null;
}

export interface HistoryEntry {
  readonly at: string;
  readonly by: string;
  readonly kind: 'recorded' | 'act' | 'note' | 'unmasked' | 'reply' | 'override' | 'reported';
  readonly act: DecisionAct | null;
  readonly text: string | null;
}

export interface IncidentDetail extends IncidentRow {
  readonly urgencyParts: Urgency;
  readonly lookedFor: boolean | null;
  readonly allRight: boolean | null;
  readonly cause: HarmCause | null;
  readonly revision: number;
  readonly verdict: Verdict;
  /** The policies of the verdict as they stood in that revision. */
  readonly policies: readonly Policy[];
  readonly parts: readonly EvidencePart[];
  readonly masked: boolean;
  /** Out of what, into what, over what it was moved; null for movements of earlier versions. */
  readonly way: MovementWayView | null;
  readonly recipientAddresses: readonly { readonly address: string; readonly outside: boolean }[];
  /** What the person saw; null where the answer is silent. */
  readonly notice: string | null;
  readonly history: readonly HistoryEntry[];
}

export class ActRequest {
  @IsIn(['answer-looked-for', 'answer-all-right', 'name-cause', 'take', 'wait', 'reopen'])
  act: DecisionAct['act'];

  @ValidateIf(
    (request: ActRequest) => request.act === 'answer-looked-for' || request.act === 'answer-all-right',
  )
  @IsBoolean()
  yes?: boolean;

  @ValidateIf((request: ActRequest) => request.act === 'name-cause')
  @IsIn([...HARM_CAUSES])
  cause?: HarmCause;

  @Type(() => Number)
  @IsInt()
  @Min(1)
  version: number;
}

export class NoteRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_TEXT_LENGTH)
  text: string;
}

export class UnmaskRequest {
  /** Words that say something: the reason stands in the history for good. */
  @Transform(({ value }: { value: unknown }) => (typeof value === 'string' ? value.trim() : value))
  @IsString()
  @Matches(/\p{L}{2,}\P{L}+\p{L}{2,}|[\p{Script=Han}\p{Script=Hiragana}\p{Script=Thai}]{6,}/u, {
    message: 'must say why, in words',
  })
  @MinLength(8)
  @MaxLength(500)
  reason: string;
}
