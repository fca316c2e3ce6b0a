import type { PreventOption } from '@lantern/contracts/insight';
import { useState } from 'react';
import { Link } from 'react-router';
import { Button } from '../../../ui/button';
import { count, rounded } from '../../../wording/insight';
import { missedWords } from '../../../wording/prevention';
import { OUTCOME_WORDS } from '../../../wording/terms';
import { shortTime } from '../../../wording/times';

interface Props {
  readonly option: PreventOption;
  readonly sentence: string;
  readonly refusal: string | undefined;
  readonly taken: boolean;
  readonly onTake: () => void;
}

/** One change: what it prevents, what it misses, and what else gets through. */
export function OptionRow({ option, sentence, refusal, taken, onTake }: Props) {
  const [open, setOpen] = useState(false);
  const { effect, targets, letThrough, brokenSpecimens } = option;
  const missed = missedWords(effect);
  const fewer = effect.interrupted.before - effect.interrupted.after;
  return (
    <article
      aria-label={sentence}
      className={`max-w-5xl rounded border bg-sheet px-4 py-2.5 ${missed ? 'border-dashed border-rule-strong' : 'border-rule'}`}
    >
      <div className="flex items-start justify-between gap-4">
        <h2 className="text-[14.5px] text-ink">{sentence}</h2>
        {taken ? (
          <span className="text-[12.5px] font-semibold text-go">In the draft</span>
        ) : (
          <Button look={missed ? 'plain' : 'main'} refusal={refusal} onClick={onTake}>
            Change the draft
          </Button>
        )}
      </div>
      <dl className="mt-1 flex flex-wrap gap-x-7 gap-y-1">
        <Figure name="False positives prevented">
          {count(effect.falsePositives.gone)} of {count(effect.falsePositives.of)}
          {targets.of > 1 && targets.gone < targets.of && (
            <span className="text-ink-2">
              {' '}
              ({count(targets.gone)} of {count(targets.of)} asked about)
            </span>
          )}
        </Figure>
        <Figure name="People interrupted per day">
          {rounded(effect.interrupted.before)} → {rounded(effect.interrupted.after)}
          {fewer > 0 && <span className="text-ink-2"> ({rounded(fewer)} fewer)</span>}
        </Figure>
        <Figure name="Confirmed cases">
          {missed ? <b className="text-stop">▲ {missed}</b> : 'none missed'}
        </Figure>
        <Figure name="Undecided, let through">
          {count(effect.undecided.missed)} of {count(effect.undecided.of)}
        </Figure>
        {brokenSpecimens !== null && (
          <Figure name="Specimens broken">{brokenSpecimens === 0 ? 'none' : count(brokenSpecimens)}</Figure>
        )}
        {effect.notJudged > 0 && (
          <Figure name="Cannot be judged, no text kept">{count(effect.notJudged)}</Figure>
        )}
      </dl>
      {letThrough.length > 0 && (
        <>
          <button
            type="button"
            className="part mt-1 text-[12.5px]"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {open ? 'Hide' : 'Show'} what else would get through
          </button>
          {open && <LetThrough rows={letThrough} />}
        </>
      )}
    </article>
  );
}

function Figure({ name, children }: { readonly name: string; readonly children: React.ReactNode }) {
  return (
    <div>
      <dt className="text-[11.5px] text-ink-2">{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}

function LetThrough({ rows }: { readonly rows: PreventOption['letThrough'] }) {
  return (
    <table className="mt-1 w-full text-[12.5px]">
      <tbody>
        {rows.map((row) => (
          <tr key={row.number} className="border-t border-dotted border-rule">
            <td className="w-20 py-1">
              <Link className="part" to={`/incidents/${row.number}?filter=`}>
                {row.number}
              </Link>
            </td>
            <td className="w-28 text-ink-2">{shortTime(row.at, new Date())}</td>
            <td className="w-48 truncate">{row.person.name}</td>
            <td className="truncate">{row.title ?? ''}</td>
            <td className="w-56 truncate text-ink-2">{row.destinations.join(', ')}</td>
            <td className="w-28">{row.outcome ? OUTCOME_WORDS[row.outcome] : 'not decided'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
