import { readPiece } from '@lantern/files/reading';
import { type Outcome, UNFINISHED } from '@lantern/processes';
import type { Told } from './file-tasks.js';
import type { InspectLine, PieceLine } from './inspect-path.js';

/** Findings of one file that are written out: a line of more is no use to anybody, and they all stand in memory. */
export const MOST_FINDINGS = 100_000;

/** How pieces are looked into. */
export interface Inspecting {
  /** Pieces that are under way at the same time. */
  readonly atOnce: number;
  readonly inspect: (number: number) => Promise<Outcome<Told<PieceLine | null>>>;
}

/** Puts together what is found in the pieces of a large text, in their order. A piece that fails is named, and the others are read. */
export async function inspectPieces(
  path: string,
  count: number,
  { atOnce, inspect }: Inspecting,
): Promise<Told<InspectLine>> {
  const findings: InspectLine['findings'][number][] = [];
  const unreadableParts: { path: string; reason: string }[] = [];
  let [characters, notShown] = [0, 0];
  const waiting: ReturnType<Inspecting['inspect']>[] = [];
  for (let number = 0; number < count; number += 1) {
    while (waiting.length < Math.min(count, number + atOnce)) waiting.push(inspect(waiting.length));
    const outcome = await waiting[number];
    if (outcome?.status !== 'done') {
      const reason = outcome ? UNFINISHED[outcome.reason] : 'took-too-long';
      unreadableParts.push({ path: `piece ${number + 1} of ${count}`, reason });
      // What comes behind it begins where it ends.
      characters += readPiece(path, number)?.own.length ?? 0;
      continue;
    }
    if ('problem' in outcome.value) return outcome.value;
    const { line } = outcome.value;
    if (!line)
      return { line: { path, status: 'unreadable', reason: 'too-large', characters: 0, findings: [] } };
    for (const finding of line.findings)
      if (findings.length === MOST_FINDINGS) notShown += 1;
      else
        findings.push({
          ...finding,
          start: finding.start + characters,
          end: finding.end + characters,
        });
    characters += line.characters;
  }
  return {
    line: {
      ...{ path, status: 'read', characters, findings },
      ...(notShown > 0 ? { notShown } : {}),
      ...(unreadableParts.length > 0 ? { unreadableParts } : {}),
    },
  };
}
