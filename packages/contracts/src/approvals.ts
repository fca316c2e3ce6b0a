import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsInt,
  IsISO8601,
  IsString,
  Max,
  MaxLength,
  Min,
  MinLength,
} from 'class-validator';
import { MAX_APPROVAL_DAYS } from '@lantern/core/policy';

/** Most destinations of one approval. More than that belongs among the approved exchanges. */
const MOST_DESTINATIONS = 50;
const LONGEST_DESTINATION = 254;

/** Terms of a standing approval: days and destinations. */
export class ApprovalTermsRequest {
  @IsInt()
  @Min(1)
  @Max(MAX_APPROVAL_DAYS)
  days: number;

  /** Destinations of the movement, or `@domain` for every address of one. */
  @IsArray()
  @ArrayMaxSize(MOST_DESTINATIONS)
  @IsString({ each: true })
  @MaxLength(LONGEST_DESTINATION, { each: true })
  to: string[];
}

export class EndApprovalRequest {
  @IsString()
  @MinLength(3)
  @MaxLength(2_000)
  words: string;
}

/** New terms of an approval. Destinations can be removed, not added. */
export class ChangeApprovalRequest extends EndApprovalRequest {
  @IsISO8601({ strict: true })
  until: string;

  @IsArray()
  @ArrayMaxSize(MOST_DESTINATIONS)
  @IsString({ each: true })
  @MaxLength(LONGEST_DESTINATION, { each: true })
  to: string[];
}

export type ApprovalState = 'in-force' | 'over' | 'ended' | 'used';

/** One version of a standing approval. */
export interface ApprovalVersionView {
  readonly version: number;
  readonly change: 'given' | 'changed' | 'ended';
  readonly at: string;
  readonly by: string;
  readonly words: string;
  readonly to: readonly string[];
  readonly until: string;
}

/** A standing approval: what an approver allows one person for a time, without a change of the published rules. */
export interface StandingApprovalView {
  readonly id: string;
  readonly state: ApprovalState;
  readonly person: { readonly address: string; readonly name: string };
  readonly channel: string;
  readonly rules: readonly { readonly id: string; readonly name: string }[];
  /** For one repeat of the same content. */
  readonly once: boolean;
  /** The incident whose override it came from. */
  readonly incident: number;
  readonly since: string;
  /** The newest version comes first. */
  readonly versions: readonly ApprovalVersionView[];
  /** Why the reader may not change it; null where they may. */
  readonly refusal: 'own' | 'not-permitted' | null;
}
