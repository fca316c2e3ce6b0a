import { readPiece } from '@lantern/files/reading';
import { type Outcome, UNFINISHED } from '@lantern/processes';
import type { Told } from './file-tasks.js';
import type { InspectLine, PieceLine } from './inspect-path.js';

/** Findings of one file that are written out. All of them are held in memory until then. */
export const MOST_FINDINGS = 100_000;

/** How pieces are inspected. */
export interface Inspecting {
  /** Pieces that are under way at the same time. */
  readonly atOnce: number;
  readonly inspect: (number: number) => Promise<Outcome<Told<PieceLine | null>>>;
  /** Answers for a file that is not text. */
  readonly whole: () => Promise<Told<InspectLine>>;
}

/** Joins the findings of all pieces of a large text, in their order. A piece that fails is named, and the others are read. */
export async function inspectPieces(
  path: string,
  count: number,
  { atOnce, inspect, whole }: Inspecting,
): Promise<Told<InspectLine>> {
  const findings: InspectLine['findings'][number][] = [];
  const unreadableParts: { path: string; reason: string }[] = [];
  let labels: PieceLine['labels'] = {};
  let [characters, notShown] = [0, 0];
  const waiting: ReturnType<Inspecting['inspect']>[] = [];
  for (let number = 0; number < count; number += 1) {
    while (waiting.length < Math.min(count, number + atOnce)) waiting.push(inspect(waiting.length));
    const outcome = await waiting[number];
    if (outcome?.status !== 'done') {
      const reason = outcome ? UNFINISHED[outcome.reason] : 'took-too-long';
      unreadableParts.push({ path: `piece ${number + 1} of ${count}`, reason });
      // Offsets of later pieces count its length too.
      const { from = 0, to = 0 } = readPiece(path, number) ?? {};
      characters += to - from;
      continue;
    }
    if ('problem' in outcome.value) return outcome.value;
    const { line } = outcome.value;
    if (!line) return whole();
    labels = { ...labels, ...line.labels };
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
      ...{ path, status: 'read', characters, findings, ...labels },
      ...(notShown > 0 ? { notShown } : {}),
      ...(unreadableParts.length > 0 ? { unreadableParts } : {}),
    },
  };
}
