import type { ChangesView } from '@lantern/contracts/insight';
import { behind } from '@lantern/core/insight';
import { deskPath, printFilter } from '@lantern/core/incidents';
import { Link } from 'react-router';
import type { PeriodAsked } from '../../../data/insight';
import { filterOf } from '../../../shared/filter/filter-of';
import { FIELD_WORDS, LISTED_WORDS, valueWords } from '../../../wording/desk';
import { bucketWords, changeWords, count } from '../../../wording/insight';
import type { InsightState } from '../insight-state';
import { Strip } from '../strip';

interface Props {
  readonly view: ChangesView;
  readonly state: InsightState;
  readonly asked: PeriodAsked;
}

/** The figures of the chart as a table: values of the field, or the bars where nothing divides them. */
export function CutTable({ view, state, asked }: Props) {
  const { by } = state;
  const period = { from: Date.parse(asked.from), to: Date.parse(asked.to) };
  const filter = filterOf(view.filter);
  const head = 'py-1 text-left font-normal text-ink-2';
  const [, ...values] = view.series;
  const link = (part: Parameters<typeof behind>) => deskPath(printFilter(behind(...part)), state.listed);
  return (
    <section aria-label="The chart as a table">
      <h2>
        {LISTED_WORDS[state.listed]} by {by ? FIELD_WORDS[by].toLowerCase() : view.grain}
      </h2>
      <table className="mt-1 w-full text-[12.5px]">
        <thead>
          <tr className="border-b border-rule">
            <th className={head}>{by ? FIELD_WORDS[by] : 'Time'}</th>
            {by && <th className={head}>Over time</th>}
            <th className={`${head} text-right`}>Count</th>
            <th className={`${head} pl-4`}>{by ? 'Change' : ''}</th>
          </tr>
        </thead>
        <tbody>
          {by
            ? values.map(({ value, count: found, before, counts }) => (
                <tr key={String(value?.value)} className="border-b border-dotted border-rule">
                  <td className="max-w-64 truncate py-1">
                    {valueWords(by, value?.value ?? null, value?.label)}
                  </td>
                  <td className="w-[172px]">
                    <Strip counts={counts} spikes={view.spikes.map(({ bucket }) => bucket)} />
                  </td>
                  <td className="text-right">
                    <Link
                      className="part"
                      to={link([filter, period, { field: by, value: value?.value ?? null }])}
                    >
                      {count(found)}
                    </Link>
                  </td>
                  <td className="pl-4 text-ink-2">{changeWords(found, before)}</td>
                </tr>
              ))
            : view.buckets.map((bucket, at) => (
                <tr key={bucket.from} className="border-b border-dotted border-rule">
                  <td className="py-1">{bucketWords(bucket.from, bucket.to, view.grain)}</td>
                  <td className="text-right">
                    <Link
                      className="part"
                      to={link([filter, { from: Date.parse(bucket.from), to: Date.parse(bucket.to) }])}
                    >
                      {count(view.series[0]?.counts[at] ?? 0)}
                    </Link>
                  </td>
                  <td />
                </tr>
              ))}
        </tbody>
      </table>
      {view.more && (
        <p className="mt-1 text-[12.5px] text-ink-2">
          The {values.length} largest are shown. Narrow the filter to see others.
        </p>
      )}
      {by && values.length === 0 && <p className="mt-1 text-ink-2">Nothing happened in this period.</p>}
    </section>
  );
}
