import {
  COLUMN_KINDS,
  type ColumnKind,
  MAX_FILE_COLUMNS,
  MAX_OTHER_COLUMNS,
  type RecordReport,
  type RecordShape,
} from '@lantern/core/detection';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';
import { MAX_NAME_LENGTH, MAX_TEXT_LENGTH } from './limits.js';

/** Characters around the key within which other columns count, at most: a page of a form. */
const MOST_WINDOW = 2_000;

export class KeyColumnRequest {
  /** Place in the file, from 0. */
  @IsInt()
  @Min(0)
  @Max(MAX_FILE_COLUMNS - 1)
  column: number;

  /** A name or a date is too common to be a key. */
  @IsIn(['number', 'mail', 'phone'])
  kind: ColumnKind;
}

export class OtherColumnRequest {
  @IsInt()
  @Min(0)
  @Max(MAX_FILE_COLUMNS - 1)
  column: number;

  @IsIn([...COLUMN_KINDS])
  kind: ColumnKind;
}

export class RecordsRequest {
  @IsUUID()
  upload: string;

  @IsString()
  @MinLength(1)
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  about: string;

  @ValidateNested()
  @Type(() => KeyColumnRequest)
  key: KeyColumnRequest;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_OTHER_COLUMNS)
  @ValidateNested({ each: true })
  @Type(() => OtherColumnRequest)
  others: OtherColumnRequest[];

  /** Of the others, at least so many near the key. */
  @IsInt()
  @Min(1)
  @Max(MAX_OTHER_COLUMNS)
  needed: number;

  @IsInt()
  @Min(20)
  @Max(MOST_WINDOW)
  window: number;
}

/** A column of an uploaded file, by its first rows. */
export interface RecordColumnGuess {
  readonly name: string;
  readonly kind: ColumnKind;
  /** Share of rows with a value, 0 to 1. */
  readonly filled: number;
  /** Share of its values that are different, 0 to 1. */
  readonly distinct: number;
  readonly mayBeKey: boolean;
  /** A few values, masked. */
  readonly samples: readonly string[];
}

export interface RecordPreview {
  readonly upload: string;
  readonly encoding: string;
  readonly rowsSeen: number;
  /** Whether there are more rows than were looked at. */
  readonly more: boolean;
  /** Numbers of the first rows that are longer or shorter than the headings, and how many there are. */
  readonly ragged: readonly number[];
  readonly raggedCount: number;
  readonly columns: readonly RecordColumnGuess[];
}

/** An import while it runs, and what became of it. */
export interface RecordJob {
  readonly id: string;
  readonly status: 'running' | 'done' | 'failed';
  /** Rows read so far. */
  readonly rows: number;
  /** The records once they are there. */
  readonly source: string | null;
  /** Why it failed. */
  readonly sentence: string | null;
}

/** Records as their page shows them: no value of theirs. */
export interface RecordsDetail {
  readonly shape: RecordShape;
  readonly report: RecordReport & { readonly ragged?: number; readonly overLimit?: number };
  readonly version: number;
  readonly updatedAt: string;
  readonly updatedBy: string;
}
