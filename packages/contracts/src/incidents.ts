import type { Evidence } from '@lantern/core/detection';
import type {
  DeskAct,
  HarmCause,
  IncidentCount,
  IncidentStatus,
  Outcome,
  Urgency,
} from '@lantern/core/incidents';
import type {
  ApplicationUse,
  Channel,
  Connection,
  PartRole,
  LinkKind,
  Machine,
  NetworkState,
  Spot,
  UnreadableReason,
} from '@lantern/core/movement';
import { type Answer, type Policy, SEVERITIES, type Severity, type Verdict } from '@lantern/core/policy';
import { HARM_CAUSES } from '@lantern/core/incidents';
import { Transform, Type } from 'class-transformer';
import {
  IsBoolean,
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
  /** Subject, file or place, values masked. */
  readonly title: string | null;
  readonly machine: string | null;
  /** By when it is to be decided; null where no time is promised. */
  readonly dueAt: string | null;
  /** Open past that time. */
  readonly overdue: boolean;
  /** Number of the first attempt of its case. */
  readonly case: number | null;
  /** Our own test. */
  readonly test: boolean;
  readonly silent: boolean;
  /** The person who moved it says that what was found is none. */
  readonly reported: boolean;
  /** Name of the other system that reported it; null for what our rules found. */
  readonly origin: string | null;
  readonly version: number;
}

/** Origin of incidents about items where they lie: somebody who read results of discovery opened them. */
export const DISCOVERY_ORIGIN = 'Discovery';

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

/** Pictures of a screen around a movement. */
export interface PicturesView {
  readonly pictures: readonly {
    readonly at: string;
    readonly type: 'image/png' | 'image/jpeg';
    readonly base64: string;
  }[];
}

export interface MovementWayView {
  readonly activity: string | null;
  /** Title of the window, long numbers masked; left out where it is not known. */
  readonly window?: string;
  readonly from: readonly Spot[];
  readonly into: readonly Spot[];
  readonly link: LinkKind | null;
  readonly connection: Connection | null;
  readonly machine: Machine | null;
  readonly network: NetworkState | null;
  /** What was done in a business application; left out where nothing was. */
  readonly use?: ApplicationUse;
}

export const HISTORY_KINDS = [
  'recorded',
  'act',
  'note',
  'unmasked',
  'reply',
  'override',
  'reported',
  /** It joined a case of earlier attempts, or was taken out of it. */
  'case',
  /** A question to the person, and how it ended. */
  'question',
  /** Something was done about it: somebody was told, an item was taken back. */
  'response',
  /** A routing rule acted. */
  'routed',
  /** A draft was changed so that it does not come again. */
  'prevented',
] as const;
export type HistoryKind = (typeof HISTORY_KINDS)[number];

export interface HistoryEntry {
  readonly at: string;
  readonly by: string;
  readonly kind: HistoryKind;
  readonly act: DeskAct | null;
  /** Decided together with others. */
  readonly bulk: string | null;
  readonly text: string | null;
}

export interface IncidentDetail extends IncidentRow {
  readonly urgencyParts: Urgency;
  /** What the rules said, before anybody changed it. */
  readonly firstSeverity: Severity;
  readonly manager: string | null;
  readonly lookedFor: boolean | null;
  readonly allRight: boolean | null;
  readonly cause: HarmCause | null;
  readonly revision: number;
  readonly verdict: Verdict;
  /** The policies of the verdict as they stood in that revision. */
  readonly policies: readonly Policy[];
  readonly parts: readonly EvidencePart[];
  /** Its time is over, and it was deleted. */
  readonly evidenceDeleted: boolean;
  /** The content as it was, to download; `kept` is false where it was too large. Null where none is kept. */
  readonly original: { readonly bytes: number; readonly items: number; readonly kept: boolean } | null;
  /** When pictures of the screen were taken; empty where there are none. */
  readonly pictures: readonly string[];
  readonly masked: boolean;
  /** Out of what, into what, over what it was moved; null for movements of earlier versions. */
  readonly way: MovementWayView | null;
  readonly recipientAddresses: readonly { readonly address: string; readonly outside: boolean }[];
  /** What the person saw; null where the answer is silent. */
  readonly notice: string | null;
  readonly history: readonly HistoryEntry[];
}

const ACTS = [
  'answer-looked-for',
  'answer-all-right',
  'name-cause',
  'take',
  'wait',
  'reopen',
  'assign',
  'set-severity',
  'mark-test',
] as const satisfies readonly DeskAct['act'][];

/** One act on an incident. Which of the other fields it needs follows from `act`. */
export class DeskActRequest {
  @IsIn([...ACTS])
  act: DeskAct['act'];

  @ValidateIf(({ act }: DeskActRequest) => YES_ACTS.includes(act))
  @IsBoolean()
  yes?: boolean;

  @ValidateIf(({ act }: DeskActRequest) => act === 'name-cause')
  @IsIn([...HARM_CAUSES])
  cause?: HarmCause;

  @ValidateIf(({ act }: DeskActRequest) => act === 'set-severity')
  @IsIn([...SEVERITIES])
  severity?: Severity;

  /** E-mail address of the account it is handed to; empty for nobody. */
  @ValidateIf(({ act }: DeskActRequest) => act === 'assign')
  @IsString()
  @MaxLength(254)
  to?: string;

  /** Why: it stands in the history beside the act. */
  @IsOptional()
  @IsString()
  @MaxLength(2_000)
  reason?: string;
}

const YES_ACTS: readonly string[] = ['answer-looked-for', 'answer-all-right', 'mark-test'];

export class ActRequest extends DeskActRequest {
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
