import { createHmac } from 'node:crypto';
import { SEALED_OF_MOVEMENT } from '../platform/keys/sealed-of-movement.js';
import { seal, unseal } from '../platform/sealing.js';
import type { MovementEntity } from './incident.entity.js';

/** Longest title that is kept, in characters. */
const TITLE_LENGTH = 200;
/** Words of a title that it is found by. */
const MOST_WORDS = 40;
const WORD = /[\p{L}\p{M}\p{N}]{2,}/gu;

const { place } = SEALED_OF_MOVEMENT.title;

/** Seals what a movement is called: a subject is content. */
export async function sealTitle(
  key: Buffer,
  movementId: string,
  title: string | null,
): Promise<Buffer | null> {
  return title ? seal(key, place(movementId), Buffer.from(title.slice(0, TITLE_LENGTH))) : null;
}

/** What a movement is called; null where it has no title. */
export async function openTitle(
  key: Buffer,
  { id, title }: Pick<MovementEntity, 'id' | 'title'>,
): Promise<string | null> {
  return title ? (await unseal(key, place(id), title)).toString('utf8') : null;
}

/**
 * Keyed digests of the words of a title. The database finds movements by them and learns only which titles share a word,
 * not which word it is.
 */
export function titleWords(key: Buffer, title: string): string[] {
  const words = new Set<string>();
  for (const [word] of title.toLowerCase().matchAll(WORD)) if (words.size < MOST_WORDS) words.add(word);
  return [...words].map((word) =>
    createHmac('sha256', key).update(`word of a title ${word}`).digest('hex').slice(0, 16),
  );
}
