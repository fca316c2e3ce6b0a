import type { Answer, UnreadableReason } from '@lantern/core';
import { Transform } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsOptional, IsString, IsUUID, MaxLength } from 'class-validator';
import { MAX_BODY_LENGTH } from './limits.js';

export interface PersonView {
  readonly id: string;
  readonly name: string;
  readonly address: string;
  readonly department: string;
  readonly port: string;
  readonly title: string;
}

export type MailFolder = 'inbox' | 'drafts' | 'sent';

/** What the person reads when a mail did not go. Facts only; the stand-in has the sentences. */
export interface MailNotice {
  readonly answer: Answer;
  readonly policyName: string;
  readonly ruleNumber: number;
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
}

export interface MailDetail extends MailSummary {
  readonly body: string;
  readonly attachments: readonly { readonly id: string; readonly name: string; readonly size: number }[];
  readonly notice: MailNotice | null;
}

/** Lists travel through forms as JSON; what is none stays text, and fails the check that follows. */
function fromForm({ value }: { value: unknown }): unknown {
  if (typeof value !== 'string') return value;
  try {
    return JSON.parse(value) as unknown;
  } catch {
    return value;
  }
}

/** Fields of the form that sends a mail; the files come beside them. */
export class SendMailRequest {
  @IsUUID()
  person: string;

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

export type SendMailResult =
  | { readonly status: 'sent'; readonly message: string }
  | { readonly status: 'refused'; readonly draft: MailDetail };
