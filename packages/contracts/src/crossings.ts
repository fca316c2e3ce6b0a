import type {
  AnyAutomation,
  AutomationGap,
  AutomationVerdict,
  Breach,
  CrossingSet,
  FlowService,
  CrossingProblem,
  Workspace,
} from '@lantern/core/automations';
import {
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  Min,
} from 'class-validator';
import { IsShape } from './shape.js';

/** What is drafted about automations: services, workspaces and sets of what may cross. */
export interface Crossings {
  readonly services: readonly FlowService[];
  readonly workspaces: readonly Workspace[];
  readonly sets: readonly CrossingSet[];
}

export const CROSSING_KINDS = ['service', 'workspace', 'crossing-set'] as const;
export type CrossingKind = (typeof CROSSING_KINDS)[number];

interface Stamp {
  readonly version: number;
  readonly state: 'new' | 'changed' | 'published' | 'removed';
  readonly updatedAt: string;
  readonly updatedBy: string;
}

export interface CrossingsView {
  readonly services: readonly (Stamp & { readonly service: FlowService; readonly uses: number })[];
  readonly workspaces: readonly (Stamp & { readonly workspace: Workspace })[];
  readonly sets: readonly (Stamp & {
    readonly set: CrossingSet;
    readonly problems: readonly CrossingProblem[];
  })[];
}

export class CrossingPartRequest {
  /** As the schema of its kind says. */
  @IsObject()
  definition: object;

  /** The version that was edited; left out for a new one. */
  @IsOptional()
  @IsInt()
  @Min(1)
  version?: number;
}

/** Longest OpenAPI document that is read, in characters; the largest published ones are about half of it. */
export const MAX_OPENAPI_LENGTH = 25_000_000;

export interface OpenApiView {
  readonly title: string;
  readonly operations: FlowService['operations'];
  readonly leftOut: readonly {
    readonly path: string;
    readonly why: 'refers-outside' | 'too-many' | 'no-path';
  }[];
}

/** By what automations are judged. */
export const JUDGED_BY = ['published', 'drafts'] as const;
export type JudgedBy = (typeof JUDGED_BY)[number];

export interface AutomationSummary {
  readonly id: string;
  readonly name: string;
  readonly kind: AnyAutomation['kind'];
  readonly owner: string;
  readonly workspace: string;
  readonly isOn: boolean;
  readonly madeAt: string;
  readonly runs: boolean;
  readonly breaches: number;
  readonly older: number;
}

export interface AutomationView extends AutomationSummary {
  readonly automation: AnyAutomation;
  readonly verdict: AutomationVerdict;
  readonly version: number;
}

/** One flow or assistant to be judged; nothing is kept. */
export class JudgeAutomationRequest {
  @IsShape('automation')
  automation: AnyAutomation;
}

/** A document that another system hands in: one of ours, or an Arazzo document in its place. */
export class HandedAutomationRequest {
  @IsOptional()
  @IsObject()
  automation?: object;

  /** An Arazzo document (1.0) with `x-owner` and `x-workspace` in its info. */
  @IsOptional()
  @IsObject()
  arazzo?: object;
}

export class KeepAutomationRequest extends HandedAutomationRequest {
  /** Switched on where nothing forbids it. */
  @IsBoolean()
  isOn: boolean;
}

/** Longest document about one automation that somebody pastes, in characters. */
export const MAX_AUTOMATION_TEXT = 2_000_000;

/** May it run? About one that is kept, by its id, or about a document. */
export class MayItRunRequest {
  @IsOptional()
  @IsString()
  @MaxLength(120)
  id?: string;

  /** JSON or YAML, in our form or an Arazzo document. */
  @IsOptional()
  @IsString()
  @MaxLength(MAX_AUTOMATION_TEXT)
  text?: string;
}

/** What about automations nothing guards, in sentences of the screen. */
export interface AutomationGapsView {
  readonly gaps: readonly AutomationGap[];
  /** Names of what the gaps point to by id. */
  readonly names: Readonly<Record<string, string>>;
}

export interface MayItRun {
  readonly name: string;
  readonly kind: AnyAutomation['kind'];
  readonly published: JudgedWhileBuilding;
  readonly drafts: JudgedWhileBuilding;
}

export class AutomationRequest extends JudgeAutomationRequest {
  @IsOptional()
  @IsInt()
  @Min(1)
  version?: number;

  /** Switched on where nothing forbids it. */
  @IsBoolean()
  isOn: boolean;
}

/** What became of an automation that was saved or handed in. */
export interface AutomationKept {
  readonly id: string;
  /** False where it was asked to be on and is in breach: it is kept and stays off. */
  readonly isOn: boolean;
  readonly version: number;
  readonly verdict: AutomationVerdict;
}

export class AutomationsQuery {
  @IsIn([...JUDGED_BY])
  by: JudgedBy;
}

export class BreachesQuery extends AutomationsQuery {
  /** What stands in the name of an automation, its owner or a service. */
  @IsOptional()
  @IsString()
  @MaxLength(200)
  search?: string;
}

/** One breach of one automation. */
export interface BreachRow {
  readonly automation: string;
  readonly name: string;
  readonly kind: AnyAutomation['kind'];
  readonly owner: string;
  readonly workspace: string;
  readonly isOn: boolean;
  readonly breach: Breach;
  /** It goes on, because the set binds newer ones only. */
  readonly older: boolean;
}

export interface BreachesView {
  readonly judged: number;
  /** Automations in breach. */
  readonly inBreach: number;
  /** Switched on now, and would be stopped. */
  readonly wouldStop: number;
  readonly rows: readonly BreachRow[];
  /** More rows than are shown. */
  readonly isCut: boolean;
}

export class BreachesExportQuery extends BreachesQuery {
  @IsIn(['csv', 'xlsx'])
  format: 'csv' | 'xlsx';
}

export class OpenApiRequest {
  @IsString()
  @MaxLength(MAX_OPENAPI_LENGTH)
  text: string;
}

/** Tells owners of what is listed what is wrong with it, in one mail each. */
export class TellOwnersRequest extends BreachesQuery {
  /** Day by which to mend it, YYYY-MM-DD. */
  @Matches(/^\d{4}-\d{2}-\d{2}$/u)
  until: string;

  @IsString()
  @MaxLength(2_000)
  words: string;
}

export interface OwnersTold {
  readonly told: readonly string[];
  /** Owners whom no mail reaches. */
  readonly notTold: readonly string[];
}

/** What a person can build with. */
export interface BuilderRegister {
  readonly services: readonly FlowService[];
  readonly workspaces: readonly Workspace[];
  readonly places: readonly {
    readonly name: string;
    /** Id of its label where it is published; null for none. */
    readonly label: string | null;
    readonly labelName: string | null;
  }[];
}

/** What is said about an automation while somebody builds it. */
export interface JudgedWhileBuilding {
  readonly runs: boolean;
  readonly ungoverned: readonly string[];
  readonly told: readonly {
    readonly steps: readonly string[];
    readonly sentence: string;
    /** Name of the set that says so; empty for what is not there at all. */
    readonly set: string;
    /** What would be allowed instead; empty where nothing is known. */
    readonly instead: string;
  }[];
}
