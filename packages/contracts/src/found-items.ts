import type { FoundPattern, ItemChange, ItemReach, ItemState } from '@lantern/core/discovery';
import { MAX_FILTER_LENGTH } from '@lantern/core/incidents';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  MinLength,
} from 'class-validator';
import type { FetchView } from './found-follow-up.js';

/** Items of one act at most. */
export const MAX_ACT_ITEMS = 500;
/** Items of one page of results. */
export const MAX_ITEMS = 200;

/** Orders of the list of items. */
export const ITEM_ORDERS = ['holding', 'path', 'bytes', 'changed', 'count'] as const;
export type ItemOrder = (typeof ITEM_ORDERS)[number];

export class ItemsQuery {
  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;

  @IsOptional()
  @IsIn([...ITEM_ORDERS])
  order?: ItemOrder;

  /** `next` of the page before. */
  @IsOptional()
  @IsString()
  @MaxLength(2_000)
  after?: string;
}

export const ITEM_FORMATS = ['csv', 'jsonl'] as const;

export class ItemsExportQuery {
  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;

  @IsOptional()
  @IsIn([...ITEM_ORDERS])
  order?: ItemOrder;

  @IsIn([...ITEM_FORMATS])
  format: (typeof ITEM_FORMATS)[number];
}

export interface ItemRow {
  readonly id: string;
  readonly place: { readonly id: string; readonly name: string };
  readonly path: string;
  readonly bytes: number;
  readonly changedAt: string | null;
  readonly owner: string;
  readonly state: ItemState;
  readonly reason: string | null;
  readonly found: readonly (FoundPattern & { readonly name: string })[];
  readonly label: string | null;
  /** The label that automatic rules call for, where it carries a lower one or none. */
  readonly suggested: string | null;
  readonly reach: ItemReach;
  readonly misplaced: boolean;
  readonly quarantined: boolean;
  /** Places and paths with the same bytes, itself included. */
  readonly copies: number;
}

export interface ItemPage {
  readonly items: readonly ItemRow[];
  readonly total: number;
  readonly next: string | null;
}

export class ItemFacetsQuery {
  @IsOptional()
  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter?: string;
}

/** How many items there are of each value, under a filter. */
export interface ItemFacets {
  readonly [field: string]: readonly {
    readonly value: string;
    readonly name: string;
    readonly count: number;
  }[];
}

export interface ItemDetail extends ItemRow {
  readonly readAt: string | null;
  readonly revision: number | null;
  readonly reader: string | null;
  /** Masked where it lies: whole values never left it. */
  readonly excerpts: readonly {
    readonly part: string;
    readonly line: number;
    readonly text: string;
    readonly marks: readonly {
      readonly start: number;
      readonly end: number;
      readonly pattern: string;
      readonly certainty: number;
    }[];
  }[];
  readonly unreadableParts: readonly { readonly path: string; readonly reason: string }[];
  readonly copiesAt: readonly { readonly id: string; readonly place: string; readonly path: string }[];
  readonly history: readonly ItemHistoryEntry[];
  /** Requests for it whole, the newest first. */
  readonly fetches: readonly FetchView[];
  /** Number of the incident that it became; null for none. */
  readonly incident: number | null;
}

export interface ItemHistoryEntry {
  readonly at: string;
  readonly by: string;
  readonly what: 'labelled' | 'quarantined' | 'put-back' | 'refused' | 'fetched' | 'moved-over' | ItemChange;
  readonly detail: string;
}

export const ITEM_ACTS = ['label', 'quarantine', 'put-back', 'move'] as const;
export type ItemAct = (typeof ITEM_ACTS)[number];

export class ItemActRequest {
  @IsIn([...ITEM_ACTS])
  act: ItemAct;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_ACT_ITEMS)
  @ArrayUnique()
  @IsUUID(undefined, { each: true })
  items: string[];

  /** For `label`. */
  @IsOptional()
  @IsUUID()
  label?: string;

  /** For `move`: the place it goes to. */
  @IsOptional()
  @IsUUID()
  to?: string;

  @IsString()
  @MinLength(3)
  @MaxLength(300)
  reason: string;
}

/** Acts that wait for a reader, and what came of them. */
export interface ItemActView {
  readonly id: string;
  readonly act: ItemAct;
  readonly at: string;
  readonly by: string;
  readonly reason: string;
  readonly waiting: number;
  readonly done: number;
  readonly refused: readonly { readonly path: string; readonly reason: string }[];
}

export class RunsComparedQuery {
  @IsUUID()
  from: string;

  @IsUUID()
  to: string;
}

export interface RunsCompared {
  readonly counts: Readonly<Partial<Record<ItemChange, number>>>;
  readonly lines: readonly {
    readonly id: string;
    readonly place: string;
    readonly path: string;
    readonly from: string | null;
    readonly changes: readonly ItemChange[];
    readonly sensitive: boolean;
  }[];
  /** Lines beyond those shown. */
  readonly more: number;
}

/** What closing a place to people outside would change. */
export interface WithdrawPreview {
  readonly addresses: readonly string[];
  /** Links and shares by which people outside open single items now. */
  readonly links: number;
  readonly items: number;
  readonly sensitive: number;
}
