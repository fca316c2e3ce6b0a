import type {
  Channel,
  Connection,
  LinkKind,
  NetworkState,
  SignInProof,
  Spot,
  UseDeed,
  UseWay,
} from '@lantern/core/movement';
import type { Answer, Treatment } from '@lantern/core/policy';
import type { Audience } from '@lantern/core/directory';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  MinLength,
} from 'class-validator';
import { MAX_NAME_LENGTH } from './limits.js';
import { IsShape } from './shape.js';
import type { PersonNotice, NoticeState } from './mail.js';
import { type Activity, MAX_BATCH } from './movement-schema.js';

/** What is done in a business application, as an agent hands it in. */
export interface HandedInUse {
  readonly deed: UseDeed;
  readonly by: UseWay;
  readonly report: string | null;
  readonly objects: readonly string[];
  readonly rows: number | null;
  readonly before: number | null;
  readonly columns: readonly string[];
  readonly rights: readonly string[];
  readonly signIn: {
    readonly at: string;
    readonly country: string | null;
    readonly proof: SignInProof;
  } | null;
}

/** One movement as an agent hands it in; see the published JSON Schema. */
export interface HandedIn {
  readonly key: string;
  readonly channel: Channel;
  readonly activity: Activity;
  readonly at: string | null;
  readonly person: string;
  readonly machine: string | null;
  readonly network: NetworkState;
  readonly to: readonly string[];
  readonly guests: readonly string[];
  readonly texts: readonly { readonly role: 'subject' | 'body'; readonly text: string }[];
  readonly files: readonly { readonly name: string; readonly base64: string }[];
  readonly takenFrom: readonly Spot[];
  readonly putInto: readonly Spot[];
  readonly window: string | null;
  readonly pictures: readonly { readonly at: string; readonly base64: string }[];
  readonly link: LinkKind | null;
  readonly connection: Connection;
  readonly use: HandedInUse | null;
}

/** Movements, each judged on its own: one that is refused does not keep the others back. */
export class IntakeRequest {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_BATCH)
  @IsObject({ each: true })
  movements: object[];
}

/** What an agent does with one movement. */
export interface IntakeVerdict {
  readonly id: string;
  readonly key: string;
  /** Null where no rule held. */
  readonly answer: Answer | null;
  /** `went-on` lets it go; `waiting` keeps it until the state is another; the others keep it where it is. */
  readonly state: Exclude<NoticeState, 'told'>;
  readonly treatments: readonly Treatment[];
  /** The label that automatic rules set on it, to be written onto what goes on; null where they set none. */
  readonly label: { readonly id: string; readonly name: string } | null;
  /** Where rules are asked of each recipient: what each gets. */
  readonly recipients: readonly { readonly address: string; readonly goesOn: boolean }[];
  readonly notice: PersonNotice | null;
  readonly incident: number | null;
}

export type IntakeResult =
  | ({ readonly status: 'judged' } & IntakeVerdict)
  /** Nothing was kept of it; what to mend stands in the message. */
  | { readonly status: 'refused'; readonly key: string; readonly code: string; readonly message: string };

export interface IntakeAnswer {
  readonly results: readonly IntakeResult[];
}

/** Findings that are taken at once. */
export const MAX_FINDINGS = 500;

/** What became of one finding of another system. */
export type FindingResult =
  /** Dated in the future, it stands at the time it came in. */
  | {
      readonly status: 'taken';
      readonly uid: string;
      readonly incident: number;
      readonly dated: 'as-said' | 'as-it-came';
    }
  /** It was taken before. What it says now is not taken over. */
  | { readonly status: 'known'; readonly uid: string; readonly incident: number }
  /** Nothing was kept of it; what to mend stands in the message, and where it stands in `place`. */
  | {
      readonly status: 'refused';
      readonly place: string;
      readonly code: string;
      readonly message: string;
    };

export interface FindingsAnswer {
  readonly results: readonly FindingResult[];
}

/** A year: older movements are no traffic any more. */
const MAX_HOURS_BACK = 8_760;

export class AgentRequest {
  @IsString()
  @MinLength(3)
  @MaxLength(MAX_NAME_LENGTH)
  name: string;

  /** People in whose name it may submit; left out for everybody. */
  @IsOptional()
  @IsShape('audience')
  people?: Audience;

  /** Hours that a movement may lie back; left out for no limit. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(MAX_HOURS_BACK)
  hoursBack?: number;
}

export interface AgentView {
  readonly id: string;
  readonly name: string;
  readonly createdAt: string;
  readonly createdBy: string;
  readonly people: Audience;
  readonly hoursBack: number | null;
  readonly lastSeen: string | null;
  readonly movements: number;
  readonly revokedAt: string | null;
}

/** A new agent with its key, which is shown once. */
export interface NewAgent {
  readonly id: string;
  readonly name: string;
  readonly key: string;
}

export const UNFINISHED_CHOICES = ['hold', 'block', 'let-go'] as const;
/** What happens to a movement whose reading did not finish. */
export type UnfinishedChoice = (typeof UNFINISHED_CHOICES)[number];

export class ChannelSettingRequest {
  @Type(() => String)
  @IsIn(UNFINISHED_CHOICES)
  unfinished: UnfinishedChoice;

  /** Time for reading one movement, in seconds; left out, it stays as it is. */
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(60)
  seconds?: number;
}

/** A way by which data moves, and what stands at its door. */
export interface ChannelView {
  readonly channel: Channel;
  readonly unfinished: UnfinishedChoice;
  /** Time for reading one movement, in seconds; after it `unfinished` holds. */
  readonly seconds: number;
  /** Choices that this channel can carry out. */
  readonly choices: readonly UnfinishedChoice[];
}
