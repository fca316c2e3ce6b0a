import { MAX_FILTER_LENGTH } from '@lantern/core/incidents';
import { SEVERITIES, type Severity } from '@lantern/core/policy';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUrl,
  IsUUID,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateIf,
  ValidateNested,
} from 'class-validator';

/** What can be done about an incident, by what it reaches. */
export const RESPONSES = [
  'tell-person',
  'tell-manager',
  'tell-address',
  'ask-person',
  'ticket',
  /** Takes back what the movement gave: shares of a drive, an export, a connected application. */
  'take-back',
  /** Ends every sign-in of the person, and whatever they are believed for. */
  'sign-out',
] as const;
export type ResponseKind = (typeof RESPONSES)[number];

/** Incidents that one response may be about: a mail each. */
export const MAX_RESPONDED = 200;
export const MAX_RESPONSE_TEXT = 4_000;

const isMail = ({ kind }: ResponseRequest) =>
  kind !== 'ticket' && kind !== 'take-back' && kind !== 'sign-out';

export class ResponseRequest {
  @IsIn([...RESPONSES])
  kind: ResponseKind;

  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MAX_RESPONDED)
  @ArrayUnique()
  @IsInt({ each: true })
  numbers: number[];

  @ValidateIf(isMail)
  @IsString()
  @MinLength(1)
  @MaxLength(200)
  subject?: string;

  /** May hold fields in braces: {person}, {number}, {time}, {title}, {found}, {destination}. */
  @ValidateIf(isMail)
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_RESPONSE_TEXT)
  text?: string;

  @ValidateIf(({ kind }: ResponseRequest) => kind === 'tell-address')
  @IsEmail({ require_tld: false })
  @MaxLength(254)
  to?: string;

  /** Hours until the question ends without a reply. */
  @ValidateIf(({ kind }: ResponseRequest) => kind === 'ask-person')
  @IsInt()
  @Min(1)
  @Max(720)
  hours?: number;

  @ValidateIf(({ kind }: ResponseRequest) => kind === 'ticket')
  @IsUUID()
  hook?: string;
}

/** A response as it would go out: for one incident, before it is sent. */
export interface ResponsePreview {
  readonly to: string | null;
  readonly subject: string;
  readonly text: string;
  /** Why it cannot go; null where it can. */
  readonly refusal: 'no-manager' | 'not-in-directory' | null;
}

/** A text to begin with, in the language of the person. */
export interface ResponseTemplate {
  readonly kind: ResponseKind;
  readonly subject: string;
  readonly text: string;
}

/** What became of a response to each incident. */
export interface ResponseResult {
  readonly number: number;
  readonly state: 'sent' | 'refused';
  readonly reason:
    | 'no-manager'
    | 'not-in-directory'
    | 'not-found'
    | 'already-asked'
    | 'undeliverable'
    | 'nothing-to-take-back'
    | 'signed-in-nowhere'
    | null;
}

/** What the holder of a link is asked. Never a value, never content. */
export interface QuestionView {
  readonly person: string;
  readonly by: string;
  readonly text: string;
  readonly at: string;
  readonly deadline: string;
  readonly state: 'open' | 'replied' | 'over';
}

export class QuestionReplyRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_RESPONSE_TEXT)
  text: string;
}

export class HookRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(120)
  name: string;

  @IsUrl({ protocols: ['http', 'https'], require_tld: false, require_protocol: true })
  @MaxLength(500)
  url: string;
}

export interface HookView {
  readonly id: string;
  readonly name: string;
  readonly url: string;
  /** Shown once, when the hook is made: the key that signs deliveries (Standard Webhooks). */
  readonly secret: string | null;
  readonly waiting: number;
  readonly failed: number;
}

export interface DeliveryView {
  readonly id: string;
  readonly incident: number;
  readonly at: string;
  readonly state: 'waiting' | 'delivered' | 'failed';
  readonly attempts: number;
  readonly nextAt: string | null;
  /** Status of the last answer (RFC 9110), or why there was none. */
  readonly answer: string | null;
}

/** What is done with incidents under a filter as they are recorded. */
/** What a routing rule can do about an incident beside alerts and tickets. */
export const ROUTED_RESPONSES = [
  'tell-person',
  'tell-manager',
  'ask-person',
  'take-back',
  'sign-out',
] as const satisfies readonly ResponseKind[];

/** Words that are left out are ours, in the language of the person. */
export class RoutedResponse {
  @IsIn([...ROUTED_RESPONSES])
  kind: (typeof ROUTED_RESPONSES)[number];

  @IsOptional()
  @IsString()
  @MinLength(1)
  @MaxLength(200)
  subject?: string;

  @IsOptional()
  @IsString()
  @MinLength(1)
  @MaxLength(MAX_RESPONSE_TEXT)
  text?: string;

  /** Hours until a question ends without a reply. */
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(720)
  hours?: number;
}

export class RoutingRuleRequest {
  @IsString()
  @MinLength(1)
  @MaxLength(120)
  name: string;

  @IsString()
  @MaxLength(MAX_FILTER_LENGTH)
  filter: string;

  /** E-mail address of the account that gets them; left out for nobody. */
  @IsOptional()
  @IsEmail({ require_tld: false })
  assign?: string;

  @IsOptional()
  @IsIn([...SEVERITIES])
  severity?: Severity;

  @IsBoolean()
  test: boolean;

  /** Addresses that are alerted, without content; people without an account too. */
  @IsArray()
  @ArrayMaxSize(20)
  @IsEmail({ require_tld: false }, { each: true })
  tell: string[];

  @IsOptional()
  @IsUUID()
  hook?: string;

  /** What is done at once about each incident, each kind once. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(ROUTED_RESPONSES.length)
  @ArrayUnique(({ kind }: RoutedResponse) => kind)
  @ValidateNested({ each: true })
  @Type(() => RoutedResponse)
  respond?: RoutedResponse[];

  @IsBoolean()
  active: boolean;

  /** Only the caller's own alerts: a watch on a filter. */
  @IsBoolean()
  watch: boolean;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  version?: number;
}

export interface RoutingRuleView extends Omit<RoutingRuleRequest, 'version'> {
  readonly id: string;
  readonly position: number;
  readonly version: number;
  readonly owner: string | null;
}

export class RoutingOrderRequest {
  @IsArray()
  @ArrayMaxSize(500)
  @IsUUID(undefined, { each: true })
  ids: string[];
}
