import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  MaxLength,
  MinLength,
} from 'class-validator';
import { Transform } from 'class-transformer';
import { fromForm, ID_OR_EMPTY } from './from-form.js';
import { MAX_BODY_LENGTH, MAX_NAME_LENGTH, MAX_TEXT_LENGTH } from './limits.js';
import type { PersonNotice } from './mail.js';
import { ACTIVITIES, type Activity, MAX_PICTURE_BYTES, MAX_PICTURES } from './movement-schema.js';

/** Somebody who can be played: of the house, or from outside. */
export interface PlayerView {
  /** Id of the directory, or an address for people outside. */
  readonly id: string;
  readonly name: string;
  readonly address: string;
  readonly from: string;
  readonly outside: boolean;
  /** Language (ISO 639-1) in which this person is spoken to. */
  readonly language: string;
}

/** Something that was written, pasted, uploaded or copied, as one reader sees it. */
export interface ThingView {
  readonly id: string;
  readonly at: string;
  readonly author: { readonly name: string; readonly address: string; readonly outside: boolean };
  /** What its readers see; what the author wrote last where it is not shown yet. */
  readonly text: string;
  readonly files: readonly { readonly name: string; readonly size: number }[];
  readonly label: { readonly id: string; readonly name: string; readonly colour: string } | null;
  /** Why this reader sees nothing of it; null where they do. */
  readonly closed: string | null;
  readonly state: 'shown' | 'waiting' | 'withheld';
  readonly edited: boolean;
  /** An earlier text that readers still see while a change of it waits or is withheld. */
  readonly stillShown: string | null;
  /** For the author alone. */
  readonly notice: PersonNotice | null;
  readonly reported: boolean;
}

export interface RoomView {
  readonly id: string;
  readonly name: string;
  readonly direct: boolean;
  readonly members: readonly { readonly name: string; readonly address: string; readonly guest: boolean }[];
}

export class RoomRequest {
  @IsString()
  @MinLength(2)
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  /** Addresses beside one's own; people outside are guests. */
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(500)
  @IsString({ each: true })
  @MaxLength(254, { each: true })
  members: string[];
}

/** Fields of the form that puts something somewhere; files come beside them. */
export class ThingRequest {
  @IsString()
  @MaxLength(MAX_BODY_LENGTH)
  text: string;

  /** The program it is taken from; empty where it was typed. */
  @IsOptional()
  @IsString()
  @MaxLength(200)
  takenFrom?: string;

  @IsOptional()
  @IsIn(ACTIVITIES)
  activity?: Activity;

  /** The label that was chosen, empty for none; left out where nobody was asked. */
  @IsOptional()
  @Matches(ID_OR_EMPTY)
  label?: string;

  /** What the screen showed: a time (RFC 3339), a space, and a PNG or JPEG in base 64. */
  @IsOptional()
  @Transform(fromForm)
  @IsArray()
  @ArrayMaxSize(MAX_PICTURES)
  @IsString({ each: true })
  @MaxLength(MAX_PICTURE_BYTES * 1.4, { each: true })
  pictures?: string[];
}

export class EditThingRequest {
  @IsString()
  @MaxLength(MAX_BODY_LENGTH)
  text: string;

  /** Null for none; left out where it stays. */
  @IsOptional()
  @IsUUID()
  label?: string | null;

  /** Why the label goes down, where that is asked for. */
  @IsOptional()
  @IsString()
  @MaxLength(MAX_TEXT_LENGTH)
  reason?: string;
}

/** The person says that what was found is none. */
export class ReportRequest {
  @IsString()
  @MinLength(3)
  @MaxLength(MAX_TEXT_LENGTH)
  words: string;
}

/** Where something can be put on a machine or in a browser. */
export interface TargetView {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly kind: 'site' | 'program' | 'device';
  /** Host of a site, and whether the way there is encrypted. */
  readonly host: string | null;
  readonly encrypted: boolean;
  /** Kind of a device. */
  readonly device: string | null;
  readonly trusted: boolean;
  /** What a program holds that can be taken out of it. */
  readonly records: readonly { readonly name: string; readonly text: string }[];
  /** What of it cannot be watched, said where it is used; empty for all of it. */
  readonly unwatched: string;
}
