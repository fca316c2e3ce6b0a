/** Stable codes of refusals. The web has a sentence for each; `message` says it in English for other clients. */
export const ERROR_CODES = [
  'not-signed-in',
  'wrong-credentials',
  'second-factor-needed',
  'second-person-needed',
  'wrong-code',
  'link-over',
  'weak-password',
  'last-administrator',
  'not-permitted',
  'csrf-missing',
  'too-many-requests',
  'not-found',
  'invalid-request',
  'changed-meanwhile',
  'name-taken',
  'in-use',
  'problems-remain',
  'expression-refused',
  'specimens-change',
  'too-many',
  'too-many-leave',
  'server-unreachable',
  'file-refused',
  'nothing-to-publish',
  'label-needed',
  'label-not-offered',
  'label-forbids',
  'reason-needed',
  'act-refused',
  'bad-filter',
  'too-many-recipients',
  'bad-address',
  'no-recipients',
  'file-too-large',
  'too-many-files',
  'busy',
  'unknown-agent',
  'unknown-reader',
  'key-used',
  'from-the-future',
  'empty-movement',
  'internal',
] as const;
export type ErrorCode = (typeof ERROR_CODES)[number];

/** Body of every answer that is not a success. */
export interface ErrorBody {
  readonly code: ErrorCode;
  readonly message: string;
  /** Which field is wrong and how, for `invalid-request`. */
  readonly fields?: readonly { readonly field: string; readonly message: string }[];
  /** Facts that the sentence needs, never content. */
  readonly details?: Readonly<Record<string, string | number>>;
}
