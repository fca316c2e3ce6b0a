import type { ErrorBody, ErrorCode } from '@lantern/contracts';

type Details = Readonly<Record<string, string | number>>;

/** Sentences for refusals whose message needs our own words; the others carry a sentence of their own. */
const SENTENCES: Partial<Record<ErrorCode, (details: Details) => string>> = {
  'not-signed-in': () =>
    'You are signed out. Sign in again; what you typed here is kept until you leave the page.',
  'wrong-credentials': () => 'The address or the password is not right.',
  'too-many-requests': () => 'Too many attempts. Wait a minute, then try again.',
  'file-too-large': ({ limit }) =>
    limit
      ? `A file is larger than ${limit} MB and cannot be taken. Everything else is still here.`
      : 'This is too large. It is still here. Make it smaller.',
  'too-many-files': ({ limit }) =>
    `At most ${limit ?? 20} files can be sent together. Nothing was sent. Remove some files.`,
  'too-many-recipients': ({ recipients, limit }) =>
    `This mail names ${recipients} recipients; one mail takes ${limit}. It was not sent, and all of it is still here.`,
  'bad-address': ({ address }) =>
    `"${address}" is not a mail address. The mail was not sent. It is still here.`,
  'no-recipients': () => 'Enter a recipient. The mail is still here.',
};

/** The sentence a person reads for a failure of any kind. */
export function errorSentence(error: unknown): string {
  const body = bodyOf(error);
  if (!body) return 'Something went wrong on this page. What was saved is safe; reload to go on.';
  return SENTENCES[body.code]?.(body.details ?? {}) ?? body.message;
}

/** Whether nothing failed: the first of two people did their part. */
export const isForSecond = (error: unknown): boolean => bodyOf(error)?.code === 'second-person-needed';

function bodyOf(error: unknown): ErrorBody | undefined {
  if (typeof error !== 'object' || error === null || !('body' in error)) return undefined;
  return (error as { body: ErrorBody }).body;
}
