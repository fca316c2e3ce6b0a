import type { LabelledHow } from '../labels/label.js';
import type { Finding } from '../detection/model/finding.js';
import type { PersonFacts } from '../directory/person.js';
import type { Handled } from './handled.js';
import type { Spot } from './location.js';
import type { ApplicationUse } from './use.js';

/** Ways by which data moves. */
export const CHANNELS = ['mail', 'chat', 'drive', 'browser', 'endpoint', 'business'] as const;
export type Channel = (typeof CHANNELS)[number];

/** How a text belongs to its item. */
export const PART_ROLES = ['subject', 'body', 'attachment'] as const;
export type PartRole = (typeof PART_ROLES)[number];

/** Kinds of text within a file that are not running text. All text of a sheet is cells. */
export const INNER_PLACES = ['comment', 'pending-edit', 'note', 'cell'] as const;
export type InnerPlace = (typeof INNER_PLACES)[number];

/** Places in an item that rules may ask for. */
export type PlaceInItem = PartRole | InnerPlace;
export const PLACES_IN_ITEM: readonly PlaceInItem[] = [...PART_ROLES, ...INNER_PLACES];

/** Whether a part stands in one of these places; an empty list means every place. */
export const isPlaced = (
  where: readonly PlaceInItem[],
  { role, inner }: { readonly role: PartRole; readonly inner?: InnerPlace },
): boolean => where.length === 0 || where.includes(role) || (inner !== undefined && where.includes(inner));

/** Why a part could not be read. */
export const UNREADABLE_REASONS = [
  'encrypted',
  'corrupt',
  'too-large',
  'expands-too-far',
  'nested-too-deep',
  'unsupported',
  'took-too-long',
] as const;
export type UnreadableReason = (typeof UNREADABLE_REASONS)[number];

/** By pattern: the names of the columns that hold it, each with the highest certainty there, 0 to 100. */
export type FieldsFound = Readonly<Record<string, Readonly<Record<string, number>>>>;

/** A piece of an item after inspection. `path` leads from the outermost file to this text, outermost first. */
export type InspectedPart =
  | {
      readonly status: 'read';
      readonly role: PartRole;
      readonly inner?: InnerPlace;
      readonly path: readonly string[];
      readonly characters: number;
      /** Rows of the tables in it, where it holds any. */
      readonly rows?: number;
      /** Columns of its tables in which each pattern was found, with the highest certainty there. */
      readonly fields?: FieldsFound;
      readonly findings: readonly Finding[];
    }
  | {
      readonly status: 'unreadable';
      readonly role: PartRole;
      readonly path: readonly string[];
      readonly reason: UnreadableReason;
    };

/** What a file is by its first bytes, whatever its name says. */
export const FILE_KINDS = ['pdf', 'office', 'text', 'picture', 'archive', 'program', 'other'] as const;
export type FileKind = (typeof FILE_KINDS)[number];

/** A file that came along. */
export interface MovedFile {
  readonly name: string;
  readonly kind: FileKind;
  readonly bytes: number;
  /** Its name claims another kind than its bytes show. */
  readonly misnamed: boolean;
}

/** Somebody or something that data moves to. */
export interface Recipient extends PersonFacts {
  /** Not under one of the organisation's own domains; a guest of a chat is outside whatever the address. */
  readonly outside: boolean;
  /** Two letters (ISO 3166-1 alpha-2) where the directory knows it. */
  readonly country?: string;
}

/** An earlier movement of the same person, as far as conditions over a stretch of time ask. */
export interface EarlierMovement {
  /** Milliseconds since 1970, UTC. */
  readonly at: number;
  readonly outside: boolean;
  /** A rule held for it. */
  readonly matched: boolean;
  /** It was stopped or asked about, and held the same content. */
  readonly sameStopped: boolean;
}

/** An amount within a stretch of time before a movement: only what went on counts. */
export interface PastAmount {
  readonly amount: number;
  /** What is usual for the same person in a stretch as long; left out where nobody asks. */
  readonly usual?: number;
}

/** A label that came along, on the item or on one of its files. */
export interface MovedLabel {
  readonly id: string;
  readonly name: string;
  /** It stands on the whole of what is moved, and not on a part of it. */
  readonly whole?: true;
}

/** The label that the whole of a movement had before automatic rules were asked. */
export interface OwnLabel {
  readonly id: string;
  readonly name: string;
  readonly how: LabelledHow;
}

/** Who can open what a link leads to. */
export const LINK_KINDS = ['only-named', 'whole-house', 'whoever-holds-it'] as const;
export type LinkKind = (typeof LINK_KINDS)[number];

/** What is known of the way to the target. */
export const CONNECTIONS = ['encrypted', 'readable', 'not-known'] as const;
export type Connection = (typeof CONNECTIONS)[number];

/** Whether the organisation looks after a machine. */
export const MACHINE_STATES = ['looked-after', 'strange', 'not-known'] as const;
export type MachineState = (typeof MACHINE_STATES)[number];

/** Whether the organisation trusts the network a machine is in. */
export const NETWORK_STATES = ['trusted', 'foreign', 'not-known'] as const;
export type NetworkState = (typeof NETWORK_STATES)[number];

/** The machine that somebody moves data with. */
export interface Machine {
  readonly name: string;
  readonly state: MachineState;
  readonly groups: readonly string[];
}

/** One attempt to move data, with what inspection found in it. */
export interface InspectedMovement {
  readonly channel: Channel;
  /** When, in milliseconds since 1970, UTC. */
  readonly at: number;
  readonly sender: PersonFacts;
  readonly recipients: readonly Recipient[];
  readonly parts: readonly InspectedPart[];
  readonly files: readonly MovedFile[];
  /** Of the item and of its files; left out where nobody looked, as in what was kept before there were labels. */
  readonly labels?: readonly MovedLabel[];
  /** What the whole carried before automatic rules were asked; left out where it carried none. */
  readonly own?: OwnLabel;
  /** Where it was taken from and where it is put, beside people; left out where the channel cannot tell. */
  readonly from?: readonly Spot[];
  readonly into?: readonly Spot[];
  /** Title of the window in which it was done; left out where nobody saw it. No condition asks for it. */
  readonly window?: string;
  /** What it does with labelled items in terms of their handling; left out where nothing labelled is handled. */
  readonly handled?: Handled;
  /** When the item was made, in milliseconds since 1970, UTC; left out where it is made as it moves. */
  readonly made?: number;
  /** The kind of link that is made; left out where none is. */
  readonly link?: LinkKind;
  /** People inside who can read the target beside its recipients; left out for none. */
  readonly readers?: number;
  readonly connection?: Connection;
  readonly machine?: Machine;
  readonly network?: NetworkState;
  /** What is done in a business application; left out on other channels. */
  readonly use?: ApplicationUse;
  /**
   * What the sender moved before within the stretches of time that rules ask about, by `windowKey`; a stretch that
   * nobody counted is taken as empty.
   */
  readonly past?: Readonly<Record<string, PastAmount>>;
  /** Earlier movements of the sender, newest first, as far back as {@link LONGEST_LOOK_BACK_MINUTES}. */
  readonly earlier: readonly EarlierMovement[];
}

/** Conditions over a stretch of time look back so far at most: a day. What is slower is a matter of insight. */
export const LONGEST_LOOK_BACK_MINUTES = 24 * 60;
