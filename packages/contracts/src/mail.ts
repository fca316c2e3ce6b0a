import type { UnreadableReason } from '@lantern/core/movement';
import type { Answer, AskReason, TrustScope } from '@lantern/core/policy';
import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  MaxLength,
  MinLength,
  ValidateIf,
  ValidateNested,
} from 'class-validator';
import { fromForm, ID_OR_EMPTY } from './from-form.js';
import { ApprovalTermsRequest } from './approvals.js';
import { PasskeyAnswer } from './passkeys.js';
import { MAX_BODY_LENGTH, MAX_RECIPIENTS, MAX_TEXT_LENGTH } from './limits.js';

export interface PersonView {
  readonly id: string;
  readonly name: string;
  readonly address: string;
  readonly department: string;
  readonly port: string;
  readonly title: string;
  readonly groups: readonly string[];
  /** Language (ISO 639-1) in which this person is spoken to. */
  readonly language: string;
}

/** What waits for the sender's own reply or for somebody's decision stands in a folder of its own. */
export type MailFolder = 'inbox' | 'drafts' | 'sent' | 'waiting';

/** Where a movement stands that somebody was told about. */
export type NoticeState = 'told' | 'waiting' | 'went-on' | 'taken-back' | 'refused';

/** Request for a code of the person's second factor (TOTP, RFC 6238) before a movement goes on. */
export interface ProofNotice {
  /** When it ends without a proof. */
  readonly until: string;
  /** Wrong codes that may still be given. */
  readonly triesLeft: number;
  /** Minutes without a new request after a right code; 0 asks every time. */
  readonly minutes: number;
  readonly trusts: TrustScope;
  /** The code was right; a question of the rule may still be open. */
  readonly isDone: boolean;
}

/** What the person reads about a mail. Facts and the author's words; the stand-in has the sentences. */
export interface PersonNotice {
  readonly answer: Answer;
  readonly state: NoticeState;
  /** The question that an `ask` puts; null for other answers. */
  readonly ask: {
    readonly reasons: readonly AskReason[];
    readonly until: string;
    readonly otherwise: 'goes-on' | 'stays';
    /** It ends with the page that asks, if that is closed before. */
    readonly whileOpen?: boolean;
  } | null;
  /** Request for a second factor; absent if no rule asks for one. */
  readonly proof?: ProofNotice;
  /** Who may be asked to let it go all the same; null for nobody. */
  readonly override: 'approvers' | 'authors' | null;
  /** Two people must let it go. */
  readonly twoApprovers?: true;
  /** Number of the incident, to quote to the desk. */
  readonly incident: number;
  /** Who decided or replied, and in which words; null while nobody did. */
  readonly decision: { readonly by: string; readonly words: string } | null;
  /** Until when the same is allowed again; once, where nothing could be held back. Left out where it is not. */
  readonly again?: { readonly until: string; readonly once: boolean };
  readonly policyName: string;
  readonly ruleNumber: number;
  /** Reading it did not finish, and what is stated for the channel decided: there is no rule and no text. */
  readonly unfinished?: boolean;
  /** Name of the label that does not grant it: then there is no rule. */
  readonly label?: string;
  /** Where to read more, and whom to ask, as the author wrote them; left out where they are empty. */
  readonly guidance?: string;
  readonly contact?: string;
  /** The words the policy's author wrote. */
  readonly text: string;
  readonly found: readonly {
    readonly pattern: string;
    readonly patternName: string;
    readonly distinct: number;
    readonly where: readonly string[];
  }[];
  readonly outside: readonly string[];
  readonly unreadable: readonly { readonly name: string; readonly reason: UnreadableReason }[];
}

export interface MailSummary {
  readonly id: string;
  readonly folder: MailFolder;
  readonly at: string;
  readonly from: string;
  readonly to: readonly string[];
  readonly subject: string;
  readonly refused: boolean;
  readonly label: { readonly id: string; readonly name: string; readonly colour: string } | null;
  /** What is done to it beside the answer: it is not to be passed on, for instance. */
  readonly noPassingOn: boolean;
}

export interface MailDetail extends MailSummary {
  readonly body: string;
  readonly attachments: readonly { readonly id: string; readonly name: string; readonly size: number }[];
  readonly notice: PersonNotice | null;
  /** Its sender called what was found a false finding. */
  readonly reported: boolean;
}

/** The highest label that the files of a mail carry; null where they carry none of the set. */
export interface HighestOfFiles {
  readonly label: {
    readonly id: string;
    readonly name: string;
    readonly rank: number;
    readonly colour: string;
  } | null;
}

/** What a mail's files are found by beside those that come along: a draft that has some, and which of them stay. */
export class FilesOfMailRequest {
  @IsUUID()
  person: string;

  /** The draft that is sent again; its attachments named in `keep` go along. */
  @IsOptional()
  @IsUUID()
  draft?: string;

  @IsOptional()
  @Transform(fromForm)
  @IsArray()
  @ArrayMaxSize(50)
  @IsUUID(undefined, { each: true })
  keep?: string[];
}

/** Fields of the form that sends a mail; the files come beside them. */
export class SendMailRequest extends FilesOfMailRequest {
  @Transform(fromForm)
  @IsArray()
  @ArrayMaxSize(20_000)
  @IsString({ each: true })
  @MaxLength(320, { each: true })
  to: string[];

  @IsString()
  @MaxLength(998)
  subject: string;

  @IsString()
  @MaxLength(MAX_BODY_LENGTH)
  body: string;

  /** The label that was chosen, empty for none; left out where nobody was asked. */
  @IsOptional()
  @Matches(ID_OR_EMPTY)
  label?: string;
}

/** A mail as it is written, to be cleaned of what would stop it. */
export class CleanMailRequest {
  @IsArray()
  @ArrayMaxSize(MAX_RECIPIENTS)
  @IsString({ each: true })
  @MaxLength(254, { each: true })
  to: string[];

  @IsString()
  @MaxLength(1000)
  subject: string;

  @IsString()
  @MaxLength(MAX_BODY_LENGTH)
  body: string;

  /** The draft that was stopped; its files count, and stay as they are. */
  @IsOptional()
  @IsUUID()
  draft?: string;
}

export interface CleanedMail {
  readonly subject: string;
  readonly body: string;
}

/** What the person says to a question: where it leads, and why. */
export class ReplyRequest {
  @IsIn(['goes-on', 'stays'])
  leads: 'goes-on' | 'stays';

  @IsString()
  @MinLength(1)
  @MaxLength(MAX_TEXT_LENGTH)
  words: string;
}

/** The code that the person's second factor shows now. */
export class ProofRequest {
  /** The code; left out where a passkey answers. */
  @ValidateIf(({ passkey }: ProofRequest) => passkey === undefined)
  @IsString()
  @Matches(/^[\d ]{6,9}$/, { message: 'code must be the six digits that the second factor shows' })
  code?: string;

  /** The answer of a passkey to the challenge for this movement. */
  @IsOptional()
  @ValidateNested()
  @Type(() => PasskeyAnswer)
  passkey?: PasskeyAnswer;
}

/** Whether the page that asks is open, or closes now. */
export class PageRequest {
  @IsBoolean()
  open: boolean;
}

/** Asks somebody to let a blocked mail go. */
export class OverrideRequest {
  @IsString()
  @MinLength(3)
  @MaxLength(MAX_TEXT_LENGTH)
  words: string;
}

/** Decides about something that waits. */
export class DecideRequest {
  @IsBoolean()
  goesOn: boolean;

  @IsString()
  @MinLength(3)
  @MaxLength(MAX_TEXT_LENGTH)
  words: string;

  /** Allows the same from now on, for a time; only with `goesOn`. */
  @IsOptional()
  @ValidateNested()
  @Type(() => ApprovalTermsRequest)
  standing?: ApprovalTermsRequest;
}

/** Something that waits for a decision in the workbench. No content. */
export interface WaitingView {
  readonly id: string;
  /** `prove` waits for a second factor. */
  readonly kind: 'ask' | 'hold' | 'override' | 'prove';
  readonly state: 'waiting' | 'went-on' | 'taken-back' | 'refused';
  readonly incident: number;
  readonly channel: string;
  readonly person: { readonly name: string; readonly address: string };
  readonly since: string;
  readonly deadline: string | null;
  /** It ends with the page that asks, if that is closed before. */
  readonly whileOpen: boolean;
  readonly otherwise: 'goes-on' | 'stays';
  readonly decides: 'person' | 'approvers' | 'authors';
  /** Who decides after the deadline; null for nobody. */
  readonly next: 'approvers' | 'authors' | null;
  /** Where it goes that a standing approval could name. */
  readonly destinations: readonly string[];
  /** What the person wrote. */
  readonly words: string;
  readonly decidedBy: string | null;
  readonly decidedAt: string | null;
  /** Who allowed it as the first of two people, while it waits for the second. */
  readonly agreedBy: string | null;
  /** For how many days the first of two people allowed the same; left out where they did not. */
  readonly agreedForDays?: number;
  /** Why this account cannot decide; null where it can. */
  readonly refusal: 'own' | 'not-permitted' | 'persons-own-reply' | null;
  /** Who said later that it was wrong to approve it, and why. */
  readonly judgedWrong: { readonly by: string; readonly at: string; readonly reason: string } | null;
}

/** What waits, and what was decided: the newest first, as far back as there is anything. */
export class WaitingQuery {
  /** Words of the person, their name, or who decided. */
  @IsOptional()
  @IsString()
  @MaxLength(200)
  search?: string;
}

export class JudgeWrongRequest {
  @IsString()
  @MinLength(3)
  @MaxLength(2_000)
  reason: string;
}

export type SendMailResult =
  /** `notice` holds what the sender should read about a mail that went all the same. */
  | { readonly status: 'sent'; readonly message: string; readonly notice: PersonNotice | null }
  | { readonly status: 'waiting'; readonly message: MailDetail }
  | { readonly status: 'refused'; readonly draft: MailDetail };
