import type { JournalFigures } from '@lantern/contracts';
import type { Pattern } from '@lantern/core/detection';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { useJournalFigures } from '../../../data/specimens';
import { useMay } from '../../../data/session';
import { errorSentence } from '../../../wording/errors';
import { exactTime, shortTime } from '../../../wording/times';
import { asFile } from './as-file';
import { journalWords } from './words';

/** How long somebody stops typing before the journal is asked: it is some seconds of work. */
const PAUSE_MS = 1_200;

/** The pattern as it is being written over the newest kept movements, beside what is published of it. */
export function OverJournal({
  pattern,
  written,
}: {
  readonly pattern: string;
  readonly written: Pattern | null;
}) {
  const may = useMay('replay.run');
  const file = written && asFile(written);
  const asked = usePaused(file ? JSON.stringify(file) : null);
  const figures = useJournalFigures(pattern, may && asked ? (JSON.parse(asked) as object) : null);
  if (!may || !file) return null;
  return (
    <div
      role="status"
      aria-label="Over the journal"
      className="mb-2 border-l-2 border-rule-strong px-2 py-1 text-[13px]"
    >
      {figures.isError && <p className="text-stop">{errorSentence(figures.error)}</p>}
      {!figures.data && !figures.isError && (
        <p className="text-ink-2">Looking at the newest kept movements …</p>
      )}
      {figures.data && <Figures figures={figures.data} stale={figures.isFetching} />}
    </div>
  );
}

function Figures({ figures, stale }: { readonly figures: JournalFigures; readonly stale: boolean }) {
  const now = new Date();
  return (
    <div className={stale ? 'italic' : ''}>
      <p>{journalWords(figures)}</p>
      {figures.shifts.length > 0 && (
        <details>
          <summary className="cursor-pointer text-press">Movements that change</summary>
          <ul>
            {figures.shifts.map((shift, index) => (
              <li
                key={`${shift.at}${index}`}
                className="flex gap-2 border-b border-dotted border-rule text-[12.5px]"
              >
                <span title={exactTime(shift.at)}>{shortTime(shift.at, now)}</span>
                <span className="min-w-0 flex-1 truncate">{shift.person}</span>
                <span>
                  {shift.before} → <b>{shift.now}</b>
                </span>
                {shift.incident !== null && (
                  <Link className="part" to={`/incidents/${shift.incident}`}>
                    incident {shift.incident}
                  </Link>
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

/** A value once it has stood still for a while. */
function usePaused(value: string | null): string | null {
  const [still, setStill] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setStill(value), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return still;
}
