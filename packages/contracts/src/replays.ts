import type { ReplayDifference } from '@lantern/core/insight';
import { Type } from 'class-transformer';
import { IsIn, IsInt, IsISO8601, IsOptional, IsUUID, Max, Min, ValidateIf } from 'class-validator';

export class ReplayRequest {
  /** Kept movements of a period, or stored items as if each were opened to somebody outside. */
  @IsOptional()
  @IsIn(['journal', 'stored'])
  over?: 'journal' | 'stored';

  @ValidateIf(({ over }: ReplayRequest) => over !== 'stored')
  @IsISO8601()
  since: string;

  @ValidateIf(({ over }: ReplayRequest) => over !== 'stored')
  @IsISO8601()
  until: string;

  /** Raise a policy's ceiling to `as-written` for everybody in the draft, to see what it would do. */
  @IsOptional()
  @IsUUID()
  unlimited?: string;
}

export type ReplayState = 'waiting' | 'running' | 'done' | 'stopped' | 'cut-off' | 'failed';

/** A movement whose answer changes, as the list shows it. No content. */
export interface ReplayItem {
  readonly id: string;
  readonly shift: string;
  readonly before: string | null;
  readonly after: string | null;
  readonly at: string;
  readonly channel: string;
  readonly person: string;
  readonly department: string;
  readonly destinations: readonly string[];
  readonly incident: number | null;
  readonly rule: string | null;
}

export interface ReplayView {
  readonly id: string;
  readonly state: ReplayState;
  readonly over: 'journal' | 'stored';
  readonly since: string;
  readonly until: string;
  readonly startedAt: string;
  readonly startedBy: string;
  readonly total: number;
  readonly judged: number;
  /** Movements looked for again because patterns changed. */
  readonly detectedAgain: number;
  /** Movements of which only findings were kept, of other patterns than the draft's: not judged. */
  readonly notJudged: number;
  readonly seconds: number;
  readonly difference: Omit<ReplayDifference, 'items'> | null;
  /** Rules of the draft and of what is published, by id, so that figures have names. */
  readonly rules: Readonly<Record<string, string>>;
}

export class ReplayItemsQuery {
  @IsOptional()
  @IsIn(['newly-stopped', 'newly-let-through', 'otherwise-answered'])
  shift?: string;
}

/** What the journal keeps of one channel, and for how long. */
export class JournalSettingRequest {
  @IsIn(['content', 'findings'])
  keeps: 'content' | 'findings';

  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(730)
  days: number;
}

export interface JournalView {
  readonly channel: string;
  readonly keeps: 'content' | 'findings';
  readonly days: number;
  readonly movements: number;
  readonly withContent: number;
  readonly oldest: string | null;
}
