import type { ImprovementsView } from '@lantern/contracts/insight';
import { format } from 'date-fns';
import { Link } from 'react-router';
import { useImprovements } from '../../../data/insight';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { improvementWords } from '../../../wording/improvements';
import { count } from '../../../wording/insight';
import { ago, exactTime } from '../../../wording/times';
import { InsightPage } from '../insight-page';

/** What to do next, computed from the real state, and what was done. */
export function ImprovePage() {
  const improvements = useImprovements();
  return (
    <InsightPage bar={<div className="h-2" />}>
      {improvements.error && <Notice look="stop">{errorSentence(improvements.error)}</Notice>}
      {!improvements.data && !improvements.error && <Loading what="what could be better" />}
      {improvements.data && <Improvements view={improvements.data} />}
    </InsightPage>
  );
}

function Improvements({ view }: { readonly view: ImprovementsView }) {
  const now = new Date();
  const done = view.weeks.slice(-4).reduce((sum, week) => sum + week.done, 0);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_260px] gap-8">
      <section aria-label="What to improve">
        {view.open.length === 0 ? (
          <Empty title="Nothing to improve">
            Rules, labels, agents, requests and specimens are as they should be.
          </Empty>
        ) : (
          <ol>
            {view.open.map((one) => {
              const { what, effect, to, action } = improvementWords(one, now);
              return (
                <li key={what} className="flex items-start gap-4 border-b border-rule py-2">
                  <div className="min-w-0 flex-1">
                    <p className="font-semibold">{what}</p>
                    <p className="text-[12.5px] text-ink-2">
                      {effect}. <span title={exactTime(one.since)}>Found {ago(one.since, now)}.</span>
                    </p>
                  </div>
                  <Link className="part shrink-0" to={to}>
                    {action}
                  </Link>
                </li>
              );
            })}
          </ol>
        )}
      </section>
      <section aria-label="Progress">
        <h2>Progress</h2>
        <p className="mt-1">
          <b className="font-head text-[19px]">{count(done)}</b> done in 4 weeks, {count(view.open.length)}{' '}
          open
        </p>
        <table className="mt-2 w-full text-[12.5px]">
          <thead>
            <tr className="border-b border-rule text-left text-ink-2">
              <th className="font-normal">Week from</th>
              <th className="text-right font-normal">Done</th>
              <th className="text-right font-normal">Open at the end</th>
            </tr>
          </thead>
          <tbody>
            {view.weeks.map(({ from, done: finished, open }) => (
              <tr key={from} className="border-b border-dotted border-rule">
                <td>{format(new Date(from), 'd MMM yyyy')}</td>
                <td className="text-right">{count(finished)}</td>
                <td className="text-right">{count(open)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}
