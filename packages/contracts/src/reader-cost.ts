import { CLOCK } from '@lantern/core/discovery';
import { Type } from 'class-transformer';
import { IsInt, IsNumber, IsOptional, IsString, Matches, Max, Min, ValidateNested } from 'class-validator';

/** A time of day to another one, past midnight where the second is the earlier. */
export class ReaderHours {
  @IsString()
  @Matches(CLOCK)
  from: string;

  @IsString()
  @Matches(CLOCK)
  to: string;
}

/** What a reader may cost its machine; null for no limit. */
export class ReaderCost {
  /** Share of one processor. */
  @IsOptional()
  @IsNumber()
  @Min(0.05)
  @Max(64)
  processor: number | null;

  @IsOptional()
  @IsInt()
  @Min(10_000)
  bytesPerSecond: number | null;

  @IsOptional()
  @IsNumber()
  @Min(0.1)
  itemsPerSecond: number | null;

  /** Hours in which it goes through places, by the clock of its machine; left out for all day. What people wait for is done at any time. */
  @IsOptional()
  @ValidateNested()
  @Type(() => ReaderHours)
  hours?: ReaderHours | null;

  /** On battery it goes through places only while more than so many percent are left; left out for always. */
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(100)
  batteryAbove?: number | null;
}
