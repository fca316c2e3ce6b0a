import type { Finding } from '../detection/finding.js';

/** Ways by which data moves. Mail is the first; the others join with their doors. */
export type Channel = 'mail';

/** Where in an item a text stands. */
export type PartRole = 'subject' | 'body' | 'attachment';

/** Why a part could not be read. */
export type UnreadableReason =
  | 'encrypted'
  | 'corrupt'
  | 'too-large'
  | 'expands-too-far'
  | 'nested-too-deep'
  | 'unsupported'
  | 'took-too-long';

/** A piece of an item after inspection. `path` leads from the outermost file to this text, outermost first. */
export type InspectedPart =
  | {
      readonly status: 'read';
      readonly role: PartRole;
      readonly path: readonly string[];
      readonly characters: number;
      readonly findings: readonly Finding[];
    }
  | {
      readonly status: 'unreadable';
      readonly role: PartRole;
      readonly path: readonly string[];
      readonly reason: UnreadableReason;
    };

/** Somebody or something that data moves to. */
export interface Recipient {
  readonly address: string;
  /** Neither in the directory nor under one of the organisation's own domains. */
  readonly outside: boolean;
}

/** One attempt to move data, with what inspection found in it. */
export interface InspectedMovement {
  readonly channel: Channel;
  readonly sender: { readonly address: string };
  readonly recipients: readonly Recipient[];
  readonly parts: readonly InspectedPart[];
}
