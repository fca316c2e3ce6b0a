import type { FetchedReport, ReadResult } from '@lantern/contracts/discovery';
import { AppError } from '../../platform/errors/app-error.js';

/** Excerpts of one item that are kept. */
const MOST_EXCERPTS = 100;
/** Longest excerpt, in UTF-16 units. */
const LONGEST_EXCERPT = 4_000;
const MOST_PARTS = 200;

const isText = (value: unknown, most: number): value is string =>
  typeof value === 'string' && value.length <= most;
const isTextOrNull = (value: unknown, most: number): boolean => value === null || isText(value, most);

/** What is wrong with a result of a reader, as a sentence; null for nothing. Content never stands in it. */
export function faultOfResult(result: ReadResult): string | null {
  const { id, status, reason, digest, found, excerpts, unreadableParts, label, suggested } = result;
  if (!isText(id, 36)) return 'A result names no item.';
  if (!['read', 'unreadable', 'gone'].includes(status)) return 'A result has an unknown status.';
  if (!isTextOrNull(reason, 60) || !isTextOrNull(suggested, 36))
    return 'A result has a reason or label too long.';
  if (digest !== null && !/^[\da-f]{64}$/u.test(String(digest)))
    return 'A digest is not SHA-256 in hexadecimal.';
  if (!Array.isArray(found)) return 'A result lists no findings.';
  if (!Array.isArray(excerpts) || excerpts.length > MOST_EXCERPTS) return 'A result has too many excerpts.';
  if (!excerpts.every(isExcerpt)) return 'An excerpt is too long, or marks what does not stand in it.';
  if (!Array.isArray(unreadableParts) || unreadableParts.length > MOST_PARTS)
    return 'A result has too many unreadable parts.';
  if (!unreadableParts.every((part) => isText(part.path, 2_000) && isText(part.reason, 60)))
    return 'An unreadable part is not named.';
  if (label !== null && !(isText(label?.id, 60) && isText(label.name, 200) && Number.isInteger(label.rank)))
    return 'A label is not named.';
  return null;
}

function isExcerpt(excerpt: ReadResult['excerpts'][number]): boolean {
  if (!isText(excerpt?.text, LONGEST_EXCERPT) || !isText(excerpt.part, 2_000)) return false;
  if (!Number.isInteger(excerpt.line) || !Array.isArray(excerpt.marks)) return false;
  return excerpt.marks.every(
    ({ start, end, pattern, certainty }) =>
      Number.isInteger(start) &&
      Number.isInteger(end) &&
      start >= 0 &&
      start < end &&
      end <= excerpt.text.length &&
      isText(pattern, 60) &&
      certainty >= 0 &&
      certainty <= 100,
  );
}

/** What a reader hands in of an item that was asked for whole. Throws `invalid-request` for what is not JSON of that kind. */
export function readFetched(body: Uint8Array): FetchedReport {
  let parsed: unknown;
  try {
    parsed = JSON.parse(Buffer.from(body.buffer, body.byteOffset, body.byteLength).toString('utf8'));
  } catch {
    parsed = null;
  }
  const given = typeof parsed === 'object' && parsed !== null ? (parsed as Record<string, unknown>) : {};
  const { base64 = null, problem = null } = given;
  const isWord = typeof problem === 'string' && /^[a-z-]{1,60}$/u.test(problem);
  if ((typeof base64 === 'string') === isWord)
    throw new AppError('invalid-request', 'Hand in the item in base 64, or the problem with it.');
  return { base64: isWord ? null : (base64 as string), problem: isWord ? problem : null };
}
