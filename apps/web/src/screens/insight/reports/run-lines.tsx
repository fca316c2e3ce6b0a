import { deskPath } from '@lantern/core/incidents';
import { isFirstRun, LINE_CHANGES, type LineChange } from '@lantern/core/insight';
import { Link } from 'react-router';
import { useReportRun } from '../../../data/insight';
import { count } from '../../../wording/insight';

const CHANGE_WORDS: Readonly<Record<LineChange, string>> = {
  new: 'New',
  gone: 'Gone',
  changed: 'Changed',
  same: 'As before',
};

/** The lines of a run: new, gone and changed ones first, each with the list that it counts. */
export function RunLines({ run }: { readonly run: string }) {
  const detail = useReportRun(run);
  if (!detail.data) return <p className="py-2 text-ink-2">Loading …</p>;
  const { lines } = detail.data;
  if (lines.length === 0) return <p className="py-2 text-ink-2">Nothing happened in this period.</p>;
  const isFirst = isFirstRun(lines);
  return (
    <div className="mt-2 border-l-4 border-rule-strong bg-sunk px-4 py-2">
      {LINE_CHANGES.map((change) => {
        const own = lines.filter((line) => line.change === change);
        return own.length === 0 ? null : (
          <section key={change} className="mb-2">
            <h3 className="text-[12.5px] font-semibold text-ink-2">
              {isFirst ? 'First report: nothing to compare with' : CHANGE_WORDS[change]}
            </h3>
            <ul className="columns-2 gap-8 text-[12.5px]">
              {own.map(({ key, name, value, before, listed, filter, detail: more }) => (
                <li key={key} className="break-inside-avoid">
                  {name}{' '}
                  <Link className="part" to={deskPath(filter, listed)}>
                    {count(value)}
                  </Link>
                  <span className="text-ink-2">
                    {change === 'changed' && before !== null && before !== value
                      ? ` was ${count(before)}`
                      : ''}
                    {more ? ` ${more}` : ''}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}
