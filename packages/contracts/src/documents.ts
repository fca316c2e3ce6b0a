import { type CategoryReport, type DocumentsPattern, LEARNT, MAX_SAMPLES } from '@lantern/core/detection';
import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  MinLength,
} from 'class-validator';
import { MAX_NAME_LENGTH, MAX_TEXT_LENGTH } from './limits.js';

/** Files of samples in one request; more are added in further ones. */
export const MAX_SAMPLE_FILES = 100;
/** Below this nearly everything resembles a sample. */
export const LEAST_SHARE = 0.05;

/** Fields of a form beside its files `like` and `unlike`. */
export class DocumentsRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  about: string;

  @IsIn([...LEARNT])
  learns: DocumentsPattern['learns'];

  /** Share of a sample that must reappear, 0.05 to 1; not looked at for a category. */
  @Type(() => Number)
  @IsNumber()
  @Min(LEAST_SHARE)
  @Max(1)
  leastShare: number;

  /** The version that was looked at; 0 for new ones. */
  @Type(() => Number)
  @IsInt()
  @Min(0)
  version: number;

  /** Ids of samples that go, divided by commas. */
  @Transform(({ value }) => (typeof value === 'string' ? value.split(',').filter((id) => id !== '') : value))
  @IsArray()
  @ArrayMaxSize(MAX_SAMPLES)
  @IsUUID(undefined, { each: true })
  drop: string[];
}

/** Which side of a pattern a sample stands on. */
export type SampleSide = 'like' | 'unlike';

/** A sample without its text. */
export interface SampleView {
  readonly id: string;
  readonly name: string;
  readonly side: SampleSide;
  readonly characters: number;
  /** Fingerprints that count; null for a category and for what is not meant. */
  readonly fingerprints: number | null;
  /** Certainty by a model that did not see it, 0 to 100; null for likeness. */
  readonly certainty: number | null;
}

/** A file that became no sample. */
export interface RefusedSample {
  readonly name: string;
  readonly reason: string;
}

/** Learning while it runs, and what became of it. */
export interface DocumentsJob {
  readonly id: string;
  readonly status: 'running' | 'done' | 'failed';
  /** What is being done, and how far it is: samples read, then rounds. */
  readonly step: 'reading' | 'learning';
  readonly done: number;
  readonly of: number;
  readonly pattern: string | null;
  readonly refused: readonly RefusedSample[];
  /** Why it failed. */
  readonly sentence: string | null;
}

/** Own documents as their page shows them. */
export interface DocumentsDetail {
  readonly learns: DocumentsPattern['learns'];
  readonly leastShare: number;
  readonly samples: readonly SampleView[];
  /** Null for likeness. */
  readonly report: Omit<CategoryReport, 'certainties'> | null;
  readonly version: number;
  readonly updatedAt: string;
  readonly updatedBy: string;
}
