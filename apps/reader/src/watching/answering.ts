import type { IntakeVerdict } from '@lantern/contracts';
import type { Workbench } from '../workbench.js';
import { type KeptFile, WatchState } from './watch-state.js';

/** Digits by which people name a file that waits; the note in its place says them. */
const SHORT = 8;
const ANSWER_WITHIN_MS = 20_000;

/** Files in quarantine with what is asked about them, for whoever works at the machine. */
export async function waitingLines(folder: string, workbench: Workbench): Promise<string[]> {
  const kept = WatchState.read(folder).kept;
  if (kept.length === 0) return ['No file is in quarantine here.'];
  const lines = await Promise.all(kept.map((each) => linesOf(each, workbench)));
  return lines.flat();
}

async function linesOf(kept: KeptFile, workbench: Workbench): Promise<string[]> {
  const head = `${kept.id.slice(0, SHORT)}  ${kept.path}`;
  if (kept.state === 'refused')
    return [head, '          It may not go there.', `          ${oneLine(kept.why)}`];
  const verdict =
    kept.movement === null ? null : await workbench.ask<IntakeVerdict>(`movements/${kept.movement}`);
  if (!verdict) return [head, '          It waits until the workbench can be reached.'];
  const asks = verdict.answer === 'ask';
  return [
    head,
    `          ${oneLine(verdict.notice?.text ?? kept.why)}`,
    ...(verdict.notice?.ask?.reasons ?? []).map(({ words }) => `          - ${oneLine(words)}`),
    asks
      ? `          Answer: npm run -s reader -- answer ${kept.id.slice(0, SHORT)} goes-on "why"   (or: stays)`
      : '          Somebody else decides about it.',
  ];
}

/** Gives the person's reply; throws what the workbench says against it. */
export async function answerFor(
  folder: string,
  workbench: Workbench,
  {
    number,
    leads,
    words,
  }: { readonly number: string; readonly leads: 'goes-on' | 'stays'; readonly words: string },
): Promise<string> {
  const found = WatchState.read(folder).kept.filter(({ id }) => number.length >= 4 && id.startsWith(number));
  const [kept] = found;
  if (!kept || found.length > 1) return `No file in quarantine has the number ${number}.`;
  if (kept.movement === null)
    return 'The workbench does not know of this file yet. Try again when it can be reached.';
  const verdict = await workbench.attempt<IntakeVerdict>(
    `movements/${kept.movement}/reply`,
    { leads, words },
    ANSWER_WITHIN_MS,
  );
  if (!verdict) return 'The workbench cannot be reached. Nothing was answered. Try again later.';
  if (verdict.state === 'went-on') return 'It may go on. The reader puts it back within seconds.';
  return 'It stays in quarantine.';
}

const oneLine = (text: string): string => text.replace(/\s+/gu, ' ').trim();
