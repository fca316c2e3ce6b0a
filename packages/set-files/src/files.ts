/** One file of a set: its path inside the folder, with `/`, and its text. */
export interface SetText {
  readonly path: string;
  readonly text: string;
}

/** Something wrong in a file. Lines count from 1; null where it is about the file as a whole. */
export interface FileFault {
  readonly path: string;
  readonly line: number | null;
  readonly message: string;
}

/** What `set.yaml` says. */
export interface SetHead {
  readonly format: string;
  /** Domains of the organisation: what is not under them is outside. */
  readonly domains: readonly string[];
}

/** Name and version of the format. */
export const SET_FORMAT = 'uncut-lantern set 1';
/** Largest file read: the longest word list with room to spare. */
export const MAX_FILE_LENGTH = 8_000_000;
/** Files of one set at most: all policies, texts, exchanges and patterns one can have. */
export const MAX_FILES = 5_000;

/** Folders of a set and what each holds. */
export const FOLDERS = {
  policies: 'policy',
  texts: 'text',
  exchanges: 'exchange',
  spots: 'spots',
  patterns: 'pattern',
} as const;
export type Folder = keyof typeof FOLDERS;
