/** What a column holds; it decides which ways of writing are one value. */
export const COLUMN_KINDS = ['number', 'mail', 'phone', 'name', 'date', 'free'] as const;
export type ColumnKind = (typeof COLUMN_KINDS)[number];

/** A column of the organisation's records. */
export interface RecordColumn {
  readonly name: string;
  readonly kind: ColumnKind;
}

/** How records are looked for: the key, and how many of the others must stand near it. */
export interface RecordShape {
  readonly key: RecordColumn;
  readonly others: readonly RecordColumn[];
  /** Of the others, at least so many. */
  readonly needed: number;
  /** Characters around the key within which the others count. */
  readonly window: number;
}
