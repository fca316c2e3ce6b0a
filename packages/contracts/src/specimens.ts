import type { Expected } from '@lantern/core';
import { Type } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsString, MaxLength, MinLength, ValidateNested } from 'class-validator';
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
