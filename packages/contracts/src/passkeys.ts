import 'reflect-metadata';
import { IsIn, IsObject, IsOptional, IsString, Length, MaxLength } from 'class-validator';
import { MOST_PASSWORD } from './accounts.js';

/** Passkeys of one account: a few devices and a spare. */
export const MOST_PASSKEYS = 10;

/** A passkey as its holder sees it. */
export interface PasskeyView {
  readonly id: string;
  readonly name: string;
  readonly createdAt: string;
  readonly lastUsed: string | null;
}

/** Where passkeys work: browsers bind them to a name, never to a number of a network. */
export interface PasskeysView {
  readonly passkeys: readonly PasskeyView[];
  /** Address under which the workbench takes passkeys. */
  readonly address: string;
}

/** A passkey of somebody at work. */
export interface PersonPasskeyView {
  readonly id: string;
  readonly createdAt: string;
}

/** Options for the browser, in the JSON form of WebAuthn Level 3, 5.1.8 and 5.1.9. */
export interface PasskeyOptionsView {
  readonly options: Readonly<Record<string, unknown>>;
}

export class PasskeyBeginRequest {
  /** The present password: a session that somebody left open must not leave a way in behind. */
  @IsString()
  @MaxLength(MOST_PASSWORD)
  password: string;
}

/** What the browser answers, in the JSON form of WebAuthn Level 3, 5.1.7. */
export class PasskeyAnswer {
  @IsString()
  @Length(1, 1_400)
  id: string;

  @IsString()
  @Length(1, 1_400)
  rawId: string;

  @IsIn(['public-key'])
  type: 'public-key';

  /** Read by the WebAuthn package alone, which checks each of its fields. */
  @IsObject()
  response: object;

  @IsOptional()
  @IsObject()
  clientExtensionResults?: object;

  @IsOptional()
  @IsString()
  @MaxLength(40)
  authenticatorAttachment?: string;
}

export class PasskeyAddRequest extends PasskeyAnswer {
  /** By which its holder knows it again. */
  @IsString()
  @Length(1, 60)
  name: string;
}

export interface PasskeyAddedView extends PasskeysView {
  /** Recovery codes, where the account had none; shown once. */
  readonly codes: readonly string[];
}
