import { MAX_FILTER_LENGTH } from '@lantern/core/incidents';
import type { ChangeEffect, LearnedWeights, PreventingChange, PromiseState } from '@lantern/core/insight';
import { Type } from 'class-transformer';
import { IsInt, IsOptional, IsString, IsUUID, Max, MaxLength, Min } from 'class-validator';
import type { IncidentRow } from './incidents.js';

/** What to prevent: an incident that was decided as false positive, or all such under a filter. */
export class PreventRequest {
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  incident?: number;

  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;
}

/** One change with what it would have done. */
export interface PreventOption {
  readonly change: PreventingChange;
  readonly effect: ChangeEffect;
  /** Incidents it was asked about that would not have come. */
  readonly targets: { readonly gone: number; readonly of: number };
  /** Incidents that would get through and that nobody called false; 200 at most. */
  readonly letThrough: readonly IncidentRow[];
  /** Specimens that would no longer give what they should; null for a change that reads no specimen. */
  readonly brokenSpecimens: number | null;
}

export interface PreventView {
  /** Names this computation; it is kept for a while, so that a change can be taken from it. */
  readonly computed: string;
  readonly rule: { readonly id: string; readonly name: string };
  readonly policy: { readonly id: string; readonly name: string };
  /** Days that were looked back. */
  readonly days: number;
  /** Matches of the rule in them; judged again are those whose movement the journal keeps. */
  readonly matches: number;
  readonly judged: number;
  readonly options: readonly PreventOption[];
  /** The rule differs in the drafts, and the changes start from there. */
  readonly drafted: boolean;
}

/** Takes one of the computed changes into the draft. */
export class TakeChangeRequest {
  /** The computation it was read from. */
  @IsUUID()
  computed: string;

  /** Its place in the list. */
  @IsInt()
  @Min(0)
  @Max(100)
  option: number;
}

/** A change that was made to prevent false positives, and what came of it. */
export interface PreventionView {
  readonly id: string;
  readonly at: string;
  readonly by: string;
  readonly incident: number | null;
  readonly rule: string;
  readonly change: PreventingChange;
  readonly effect: ChangeEffect;
  /** The first revision that has it; null while it is not published. */
  readonly revision: { readonly number: number; readonly at: string } | null;
  readonly state: PromiseState;
  /** Incidents of the rule in the 28 days before, and since it was published. */
  readonly before: PreventionFigures;
  readonly since: PreventionFigures | null;
}

export interface PreventionFigures {
  readonly days: number;
  readonly incidents: number;
  readonly falsePositives: number;
  readonly harm: number;
  readonly filter: string;
}

/** Weights of a pattern as decisions would have them, beside the present ones. */
export interface WeightsLearnedView {
  /** Names this computation; it is kept for a while, so that the weights can be taken from it. */
  readonly computed: string;
  readonly pattern: { readonly id: string; readonly name: string };
  /** Decided incidents with the pattern in the last 90 days whose texts the journal keeps, and all of them. */
  readonly read: number;
  readonly decided: number;
  /** Null where too few are decided, or all of them alike. */
  readonly learned: LearnedWeights | null;
  /** Decisions that are needed. */
  readonly needed: number;
}

export class TakeWeightsRequest {
  @IsUUID()
  computed: string;
}
