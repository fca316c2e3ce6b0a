import type { ChangesView, FigureView } from '@lantern/contracts/insight';
import { deskPath } from '@lantern/core/incidents';
import { Link } from 'react-router';
import { useChanges } from '../../../data/insight';
import { Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { changeWords, count, FIGURE_WORDS, trendWords } from '../../../wording/insight';
import { dayOf } from '../../../wording/times';
import { InsightPage } from '../insight-page';
import { PeriodBar } from '../period-bar';
import { useInsight } from '../use-insight';
import { CutTable } from './cut-table';
import { Spikes } from './spikes';
import { TimeChart } from './time-chart';

/** What changed: figures of a period beside the one before, over time, divided by a field, with what stands out. */
export function ChangesPage() {
  const { state, asked, change } = useInsight();
  const changes = useChanges(asked, state.listed, state.by ?? undefined);
  return (
    <InsightPage bar={<PeriodBar state={state} onChange={change} listed by />}>
      {changes.error && <Notice look="stop">{errorSentence(changes.error)}</Notice>}
      {!changes.data && !changes.error && <Loading what="figures" />}
      {changes.data && (
        <div className={changes.isPlaceholderData ? 'opacity-60' : ''}>
          <Figures figures={changes.data.figures} />
          <Known view={changes.data} from={asked.from} to={asked.to} />
          <TimeChart view={changes.data} state={state} asked={asked} onChange={change} />
          <div className="mt-4 grid grid-cols-[minmax(0,5fr)_minmax(0,6fr)] gap-6">
            <section aria-label="What stands out">
              <h2>What stands out</h2>
              {changes.data.trend && <p className="mt-1">{trendWords(changes.data.trend)}</p>}
              <Spikes view={changes.data} state={state} asked={asked} />
            </section>
            <CutTable view={changes.data} state={state} asked={asked} />
          </div>
        </div>
      )}
    </InsightPage>
  );
}

/** Each figure opens what it counts; the change to the period before opens that one. */
function Figures({ figures }: { readonly figures: readonly FigureView[] }) {
  return (
    <dl className="mb-3 grid grid-cols-7 border-y border-rule">
      {figures.map((figure) => (
        <div key={figure.code} className="border-l border-rule px-3 py-1.5 first:border-l-0 first:pl-0">
          <dt className="text-[12px] text-ink-2">{FIGURE_WORDS[figure.code]}</dt>
          <dd className="leading-tight">
            <Link
              className="font-head text-[19px] font-semibold text-press hover:underline"
              to={deskPath(figure.filter, figure.listed)}
              aria-label={`${FIGURE_WORDS[figure.code]}: ${count(figure.count)}`}
            >
              {count(figure.count)}
            </Link>
            <Link
              className="block text-[11.5px] text-ink-2 hover:underline"
              to={deskPath(figure.filterBefore, figure.listed)}
            >
              {changeWords(figure.count, figure.before)}
            </Link>
          </dd>
        </div>
      ))}
    </dl>
  );
}

/** Says where a period reaches back to a time that is not known. */
function Known({
  view,
  from,
  to,
}: {
  readonly view: ChangesView;
  readonly from: string;
  readonly to: string;
}) {
  if (view.since === null) return <Notice>No movement has been recorded yet.</Notice>;
  const length = Date.parse(to) - Date.parse(from);
  if (Date.parse(view.since) <= Date.parse(from) - length) return null;
  if (view.since <= from)
    return (
      <p className="mb-2 text-[12.5px] text-ink-2">
        The period before is known in part only: the first movement was recorded on {dayOf(view.since)}.
      </p>
    );
  return (
    <p className="mb-2 text-[12.5px] text-ink-2">
      The first movement was recorded on {dayOf(view.since)}. Nothing is known of the time before.
    </p>
  );
}
