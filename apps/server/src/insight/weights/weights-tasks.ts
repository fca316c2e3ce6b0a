import {
  compileScanner,
  type Evidence,
  type Finding,
  type Pattern,
  type Scanner,
} from '@lantern/core/detection';
import type { TaskModule } from '@lantern/processes';
import type { JournalEntry } from '../../journal/journal-entry.js';
import { SEALED_OF_MOVEMENT } from '../../platform/keys/sealed-of-movement.js';
import { unsealHere } from '../../platform/sealing.js';

/** One pattern as it is drafted. */
export interface WeightsData {
  readonly pattern: Pattern;
}

export interface TextsRow {
  readonly id: string;
  /** Its data key. */
  readonly key: Uint8Array;
  readonly sealedTexts: Uint8Array;
}

/** What speaks for a finding, without the words that it was read from. */
export type FindingEvidence = readonly Pick<Evidence, 'code' | 'weight'>[];

let scanner: Scanner | null = null;

export function prepare(data: WeightsData): void {
  scanner = compileScanner([data.pattern]);
}

/** For the surest finding of a movement; null where nothing is found. */
function evidenceOf({ id, key, sealedTexts }: TextsRow): FindingEvidence | null {
  const opened = unsealHere(
    Buffer.from(key),
    SEALED_OF_MOVEMENT.journalTexts.place(id),
    Buffer.from(sealedTexts),
  ).toString('utf8');
  let surest: Finding | null = null;
  for (const text of (JSON.parse(opened) as JournalEntry['texts']) ?? [])
    for (const finding of text ? (scanner?.scan(text).findings ?? []) : [])
      if (finding.certainty > (surest?.certainty ?? -1)) surest = finding;
  return surest?.evidence.map(({ code, weight }) => ({ code, weight })) ?? null;
}

export const tasks = {
  evidence: (rows: readonly TextsRow[]): (FindingEvidence | null)[] => rows.map(evidenceOf),
} satisfies TaskModule['tasks'];
