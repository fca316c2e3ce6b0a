/** What the directory keeps of one person. Texts are trimmed and at most {@link MAX_FIELD} characters long. */
export interface PersonRecord {
  /** Small letters. */
  readonly address: string;
  readonly name: string;
  readonly department: string;
  readonly office: string;
  readonly title: string;
  /** Groups that the source lists; those told by a condition are worked out from the other fields. */
  readonly groups: readonly string[];
  /** Address of the manager; null where nobody is named. */
  readonly manager: string | null;
  /** ISO 639-1. */
  readonly language: string;
  /** Zone of the IANA database in which they work; empty where nobody says. */
  readonly zone: string;
  /** What the source calls this person for good, so that a new address is seen as a change; null where it says nothing. */
  readonly key: string | null;
}

/** Fields that a source may leave out: what is known of them then stays. */
export const PERSON_FIELDS = [
  'name',
  'department',
  'office',
  'title',
  'groups',
  'manager',
  'language',
  'zone',
] as const;
export type PersonField = (typeof PERSON_FIELDS)[number];

/** One person as a source tells of them. `line` is where it stands: a row, a line, or the number of an entry; from 1. */
export interface ListedPerson {
  readonly line: number;
  readonly address: string;
  readonly key?: string | null;
  readonly fields: Partial<Pick<PersonRecord, PersonField>>;
}

/** Columns of the database; longer ones are refused with the person they belong to. */
export const MAX_FIELD = 120;
export const MAX_ADDRESS = 254;
export const MAX_KEY = 200;
/** Groups of one person: more is a mistake of the source, and would be asked for every movement. */
export const MAX_GROUPS = 200;
/** People of one directory. The largest lists are compared in memory. */
export const MAX_PEOPLE = 200_000;
