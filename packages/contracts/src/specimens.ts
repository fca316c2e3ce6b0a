import type { Expected } from '@lantern/core/detection';
import { Type } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsString, MaxLength, MinLength, ValidateNested } from 'class-validator';
import { IsShape } from './shape.js';
import { MAX_EXPECTED_VALUES, MAX_NAME_LENGTH, MAX_SPECIMEN_LENGTH } from './limits.js';

export class ExpectedRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(80)
  pattern: string;

  /** What should be found; empty where nothing should. */
  @IsArray()
  @ArrayMaxSize(MAX_EXPECTED_VALUES)
  @IsString({ each: true })
  @MinLength(1, { each: true })
  @MaxLength(1_000, { each: true })
  values: string[];
}

export class SpecimenRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  @IsString()
  @MinLength(1)
  @MaxLength(MAX_SPECIMEN_LENGTH)
  text: string;

  @IsArray()
  @ArrayMaxSize(20)
  @ValidateNested({ each: true })
  @Type(() => ExpectedRequest)
  expected: ExpectedRequest[];
}

/** A saved text with what it should give. */
export interface SpecimenView {
  readonly id: string;
  readonly name: string;
  readonly text: string;
  readonly expected: readonly Expected[];
  readonly savedAt: string;
  readonly savedBy: string;
}

/** How specimens of one pattern come out with the drafts, judged on the server because what it knows never leaves it. */
export interface JudgedSpecimen {
  readonly id: string;
  readonly found: number;
  readonly missed: readonly string[];
  readonly extra: readonly string[];
}

/** A pattern as it is being written, to be held to the journal. Nothing of it is kept. */
export class JournalFiguresRequest {
  /** Id of the pattern that is published, where it is changed; empty for a new one. */
  @IsString()
  @MaxLength(80)
  pattern: string;

  /** The pattern as a file of a set holds it; see the published JSON Schema. */
  @IsShape('pattern')
  written: object;
}

/** A movement in which a change finds something else. No content. */
export interface JournalShift {
  readonly at: string;
  readonly person: string;
  readonly incident: number | null;
  readonly before: number;
  readonly now: number;
}

/** A pattern over kept movements: as it is published, and as it is being written. */
export interface JournalFigures {
  /** Movements whose texts were looked at, the newest first, and those kept without content. */
  readonly looked: number;
  readonly withoutContent: number;
  readonly since: string | null;
  /** Movements in which it finds something certain enough. */
  readonly before: number;
  readonly now: number;
  readonly newly: number;
  readonly gone: number;
  /** Of decided incidents that either finds something in: those that were what we look for, and those that were not. */
  readonly right: { readonly total: number; readonly before: number; readonly now: number };
  readonly wrong: { readonly total: number; readonly before: number; readonly now: number };
  readonly shifts: readonly JournalShift[];
  readonly seconds: number;
}
