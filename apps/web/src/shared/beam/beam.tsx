import type { Answer } from '@lantern/core/policy';
import { ANSWER_DONE } from '../../wording/terms';

interface Props {
  readonly from: string;
  readonly by: string;
  readonly to: string;
  readonly answer: Answer | null;
  /** Something was found in it: the line is lit. */
  readonly lit: boolean;
  readonly worded?: boolean;
  /** In a narrow row: names get the room that the lines leave. */
  readonly tight?: boolean;
}

/** The line that every movement shares: person, channel, destination, and the verdict where it ends or breaks. */
export function Beam({ from, by, to, answer, lit, worded = false, tight = false }: Props) {
  return (
    <span className="flex min-w-0 items-center gap-1.5 text-[12.5px] text-ink-2">
      <span className={`truncate ${tight ? 'max-w-[46%] flex-none' : ''}`}>{from}</span>
      <Line lit={lit} tight={tight} />
      <span className="whitespace-nowrap">{by}</span>
      <Line lit={lit} tight={tight} />
      <End answer={answer} />
      {worded && answer && (
        <b className={answer === 'block' ? 'text-stop' : 'text-ink'}>{ANSWER_DONE[answer]}</b>
      )}
      <span className="truncate">{to}</span>
      {!worded && <span className="sr-only">{answer ? ANSWER_DONE[answer] : 'went on'}</span>}
    </span>
  );
}

function Line({ lit, tight }: { readonly lit: boolean; readonly tight: boolean }) {
  const colour = lit ? 'linear-gradient(90deg, var(--found-deep), #f0a830)' : 'var(--rule-strong)';
  return (
    <span
      aria-hidden
      className={`h-[1.5px] ${tight ? 'w-3 flex-none' : 'min-w-4 flex-1'}`}
      style={{ background: colour }}
    />
  );
}

/** Shapes first, colour second: a bar stops, two bars hold, a ring asks, a diamond lets through. */
function End({ answer }: { readonly answer: Answer | null }) {
  switch (answer) {
    case 'block':
      return <span aria-hidden className="h-3.5 w-1 bg-stop" />;
    case 'hold':
      return <span aria-hidden className="h-3.5 w-3 border-x-4 border-ink" />;
    case 'ask':
      return <span aria-hidden className="size-3 rounded-full border-2 border-press bg-sheet" />;
    case 'advise':
    case 'note':
    case null:
      return <span aria-hidden className="size-2.5 rotate-45 border-2 border-go bg-sheet" />;
  }
}
