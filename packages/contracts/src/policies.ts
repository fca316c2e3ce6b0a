import type { MachineGapCode } from '@lantern/core/insight';
import type { UnfinishedChoice } from './intake.js';
import type { CrossingProblem } from '@lantern/core/automations';
import type { PatternKind } from '@lantern/core/detection';
import type { LabelProblem } from '@lantern/core/labels';
import type {
  AnswerText,
  CoverageCell,
  Exchange,
  Policy,
  Problem,
  SetProblem,
  SpotGroup,
} from '@lantern/core/policy';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { MAX_NAME_LENGTH, MAX_SPECIMENS, MAX_TEXT_LENGTH } from './limits.js';
import { IsShape } from './shape.js';

/** Policies, texts and exchanges of one set at most; more is refused, not read half. */
export const MAX_POLICIES = 500;

export class PolicyRequest {
  /** A policy without its id; see the published JSON Schema. What has a default may be left out. */
  @IsShape('policy')
  policy: Omit<Policy, 'id'>;
}

export class SavePolicyRequest extends PolicyRequest {
  /** The version that was edited; a newer one on the server refuses the save. */
  @IsInt()
  @Min(1)
  version: number;
}

/** All policies in their new reading order. */
export class PolicyOrderRequest {
  @IsArray()
  @ArrayMaxSize(MAX_POLICIES)
  @IsUUID(undefined, { each: true })
  policies: string[];
}

export class TextRequest {
  @IsShape('text')
  text: Omit<AnswerText, 'id'>;
}

export class SaveTextRequest extends TextRequest {
  @IsInt()
  @Min(1)
  version: number;
}

export class ExchangeRequest {
  @IsShape('exchange')
  exchange: Omit<Exchange, 'id'>;
}

export class SaveExchangeRequest extends ExchangeRequest {
  @IsInt()
  @Min(1)
  version: number;
}

export class SpotGroupRequest {
  @IsShape('spots')
  spots: Omit<SpotGroup, 'id'>;
}

export class SaveSpotGroupRequest extends SpotGroupRequest {
  @IsInt()
  @Min(1)
  version: number;
}

/** Where a text or an exchange is used, by the names of policies and the numbers of rules from 1. */
export interface Usage {
  readonly policy: string;
  readonly policyName: string;
  readonly rule: number;
}

export interface TextView {
  readonly text: AnswerText;
  readonly version: number;
  readonly state: DraftState;
  readonly usedBy: readonly Usage[];
  /** Names in braces that stand for nothing. */
  readonly unknownFields: readonly string[];
  readonly updatedAt: string;
  readonly updatedBy: string;
}

export interface ExchangeView {
  readonly exchange: Exchange;
  readonly version: number;
  readonly state: DraftState;
  readonly usedBy: readonly Usage[];
  readonly updatedAt: string;
  readonly updatedBy: string;
}

export interface SpotGroupView {
  readonly spots: SpotGroup;
  readonly version: number;
  readonly state: DraftState;
  readonly usedBy: readonly Usage[];
  readonly updatedAt: string;
  readonly updatedBy: string;
}

/** A machine of the directory. */
export interface MachineView {
  readonly name: string;
  readonly state: string;
  readonly groups: readonly string[];
  readonly owner: string;
}

/** How a draft stands to the published revision. */
export type DraftState = 'new' | 'changed' | 'published' | 'removed';

export interface PolicyView {
  readonly policy: Policy;
  readonly version: number;
  readonly state: DraftState;
  readonly problems: readonly Problem[];
  readonly updatedAt: string;
  readonly updatedBy: string;
}

export class PublishRequest {
  /** The revision that was current when the changes were looked at; a newer one refuses. Left out: whatever is current. */
  @IsOptional()
  @IsInt()
  @Min(0)
  follows?: number;

  /** Fingerprint of the drafts that were on the screen; others refuse. Left out: whatever is drafted. */
  @IsOptional()
  @IsString()
  @MaxLength(64)
  fingerprint?: string;

  @IsString()
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  reason: string;

  /** Specimens that would no longer give what they should, by id: the author has seen them and publishes all the same. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MAX_SPECIMENS)
  @IsUUID(undefined, { each: true })
  brokenSpecimens?: string[];
}

/** A specimen that the drafts would break. */
export interface BrokenSpecimen {
  readonly id: string;
  readonly name: string;
  readonly pattern: string;
  readonly patternName: string;
  readonly missed: number;
  readonly extra: number;
}

export interface RevisionView {
  readonly number: number;
  readonly name: string;
  readonly reason: string;
  readonly publishedAt: string;
  readonly publishedBy: string;
  /** Names of specimens that it broke knowingly. */
  readonly brokenSpecimens: readonly string[];
}

/** One thing that differs between the drafts and the published revision. */
export interface DraftChange {
  readonly subject:
    | 'pattern'
    | 'label'
    | 'offer'
    | 'automatic'
    | 'policy'
    | 'text'
    | 'exchange'
    | 'spots'
    | 'order'
    | 'service'
    | 'workspace'
    | 'crossing-set';
  readonly id: string;
  readonly name: string;
  readonly state: Exclude<DraftState, 'published'>;
  readonly before: Policy | null;
  readonly after: Policy | null;
}

export interface DraftView {
  readonly changes: readonly DraftChange[];
  /** Of the whole set: what must be mended, and what is worth a look. */
  readonly problems: readonly SetProblem[];
  /** The same of labels, offers and automatic rules. */
  readonly labelProblems: readonly LabelProblem[];
  /** The same of what may cross between services. */
  readonly crossingProblems: readonly CrossingProblem[];
  /** The revision the drafts would follow; null before the first. */
  readonly follows: number | null;
  /** SHA-256 of all that is drafted: whoever publishes says which drafts they looked at. */
  readonly fingerprint: string;
  /** Who published these drafts as the first of two people; a second one puts them in force. */
  readonly agreed?: { readonly by: string; readonly at: string } | null;
  readonly broken: readonly BrokenSpecimen[];
}

/** What differs between two revisions, or between a revision and the drafts. */
export interface Comparison {
  readonly from: number;
  readonly to: number | null;
  readonly changes: readonly DraftChange[];
}

/** Publishes what an old revision holds once more, as a new one. */
export class RollBackRequest {
  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  reason: string;
}

/** An agent or machine by which rules guard less than they say. */
export interface DoorGap {
  readonly name: string;
  readonly code: MachineGapCode;
  readonly paths: readonly string[];
  readonly lastSeen: string | null;
  /** A machine of discovery, and not an agent that hands in movements. */
  readonly isMachine: boolean;
}

/** What happens today to each kind of data on each way out. */
export interface CoverageView {
  readonly patterns: readonly { readonly id: string; readonly name: string; readonly kind: string }[];
  readonly cells: readonly CoverageCell[];
  /** Ready patterns that no rule asks for, by kind: they go everywhere unseen. */
  readonly unasked: readonly {
    readonly kind: PatternKind;
    readonly patterns: number;
    readonly first: string;
  }[];
  /** Everybody in the directory, whom the shares of a cell add up to. */
  readonly people: number;
  /** Doors and whether they take anything: a shut one is a gap whatever the policies say. */
  readonly doors: readonly {
    readonly channel: string;
    readonly open: boolean;
    readonly why: string;
    /** Where rules hold for less than they say: agents and machines that are silent, old, or cannot. */
    readonly gaps: readonly DoorGap[];
    /** What happens to a movement that could not be read in `seconds`. */
    readonly unfinished: UnfinishedChoice;
    readonly seconds: number;
  }[];
}

/** One file of a set. */
export class SetFile {
  @IsString()
  @MaxLength(300)
  path: string;

  @IsString()
  @MaxLength(8_000_000)
  text: string;
}

export interface SetFault {
  readonly path: string;
  /** From 1; null for the file as a whole. */
  readonly line: number | null;
  readonly message: string;
}

export class SetImportRequest {
  @IsArray()
  @ArrayMaxSize(5_000)
  @ValidateNested({ each: true })
  @Type(() => SetFile)
  files: SetFile[];

  /** Only says what would change. */
  @IsBoolean()
  onlyLook: boolean;
}

/** What a folder of files would change in the drafts, or changed. With faults nothing is touched. */
export interface SetImportResult {
  readonly faults: readonly SetFault[];
  readonly changes: readonly DraftChange[];
}

/** A policy as text, to be read against the drafts. */
export class PolicyTextRequest {
  @IsString()
  @MaxLength(1_000_000)
  text: string;
}

export interface PolicyTextResult {
  readonly faults: readonly SetFault[];
  readonly policy: Policy | null;
}

/** A policy of the editor, to be shown as text. */
export class PolicyToTextRequest extends PolicyRequest {}

/** What a policy's ceiling caught, would have answered, and what people under no ceiling said. */
export interface CeilingRecord {
  /** Matches that a ceiling cut, by the answer the rule gives. */
  readonly cut: Readonly<Record<string, number>>;
  readonly people: number;
  /** Decisions on incidents with such a match. */
  readonly decided: { readonly falsePositive: number; readonly allowed: number; readonly harm: number };
  /** What became of movements of people for whom it is as written. */
  readonly pilot: { readonly wentOn: number; readonly takenBack: number; readonly refused: number };
  /** What those people wrote, newest first. */
  readonly said: readonly string[];
}
