import {
  ANSWERS,
  type Answer,
  type Channel,
  type Condition,
  type Policy,
  type Problem,
  SEVERITIES,
  type Severity,
} from '@lantern/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  Min,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import { IsCondition } from './condition.js';
import { MAX_NAME_LENGTH, MAX_RULES, MAX_SPECIMENS, MAX_TEXT_LENGTH } from './limits.js';

export class RuleRequest {
  @IsUUID()
  id: string;

  @IsCondition()
  when: Condition;

  @ValidateIf((rule: RuleRequest) => rule.unless !== null)
  @IsCondition()
  unless: Condition | null;

  @IsIn([...ANSWERS])
  answer: Answer;

  @IsIn([...SEVERITIES])
  severity: Severity;

  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  notice: string;

  @IsBoolean()
  endsPolicy: boolean;
}

export class PolicyRequest {
  @IsString()
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  purpose: string;

  @IsArray()
  @ArrayMaxSize(10)
  @IsIn(['mail'], { each: true })
  channels: Channel[];

  @IsArray()
  @ArrayMaxSize(MAX_RULES)
  @ValidateNested({ each: true })
  @Type(() => RuleRequest)
  rules: RuleRequest[];
}

export class SavePolicyRequest extends PolicyRequest {
  /** The version that was edited; a newer one on the server refuses the save. */
  @IsInt()
  @Min(1)
  version: number;
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
  readonly subject: 'pattern' | 'policy';
  readonly id: string;
  readonly name: string;
  readonly state: Exclude<DraftState, 'published'>;
  readonly before: Policy | null;
  readonly after: Policy | null;
}

export interface DraftView {
  readonly changes: readonly DraftChange[];
  readonly problems: readonly { readonly policy: string; readonly problem: Problem }[];
  readonly broken: readonly BrokenSpecimen[];
}
