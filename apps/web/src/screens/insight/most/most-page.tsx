import type { MostView } from '@lantern/contracts/insight';
import { deskPath, type Listed, printFilter } from '@lantern/core/incidents';
import { behind } from '@lantern/core/insight';
import { Link } from 'react-router';
import { type PeriodAsked, useMost } from '../../../data/insight';
import { filterOf } from '../../../shared/filter/filter-of';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { FIELD_WORDS, LISTED_WORDS, valueWords } from '../../../wording/desk';
import { errorSentence } from '../../../wording/errors';
import { count, fewWords, percent, rounded } from '../../../wording/insight';
import { InsightPage } from '../insight-page';
import { PeriodBar } from '../period-bar';
import { useInsight } from '../use-insight';
import { Hours } from './hours';

/** Chance below which a count is pointed out, after as many values as are shown were looked at. */
const UNUSUAL = 0.001;

/** The few people, machines, destinations, networks and hours that make up most of it. */
export function MostPage() {
  const { state, asked, change } = useInsight();
  const most = useMost(asked, state.listed);
  return (
    <InsightPage bar={<PeriodBar state={state} onChange={change} listed />}>
      {most.error && <Notice look="stop">{errorSentence(most.error)}</Notice>}
      {!most.data && !most.error && <Loading what="figures" />}
      {most.data?.total === 0 && (
        <Empty title="Nothing happened in this period">Choose a longer period or remove a filter.</Empty>
      )}
      {most.data && most.data.total > 0 && (
        <div className={most.isPlaceholderData ? 'opacity-60' : ''}>
          <p className="mb-3">
            <Link className="part" to={deskPath(allBehind(most.data, asked), state.listed)}>
              {count(most.data.total)} {LISTED_WORDS[state.listed].toLowerCase()}
            </Link>
            {most.data.usualDays >= 28
              ? `. What is usual is taken from the ${most.data.usualDays} days before.`
              : `. Only ${most.data.usualDays} days before this period are known: too few to say what is usual.`}
          </p>
          <div className="grid grid-cols-2 gap-x-8 gap-y-5">
            {most.data.fields.map((field) => (
              <Field key={field.field} field={field} listed={state.listed} />
            ))}
            <Hours view={most.data} state={state} asked={asked} />
          </div>
        </div>
      )}
    </InsightPage>
  );
}

const allBehind = ({ filter }: MostView, { from, to }: PeriodAsked): string =>
  printFilter(behind(filterOf(filter), { from: Date.parse(from), to: Date.parse(to) }));

interface FieldProps {
  readonly field: MostView['fields'][number];
  readonly listed: Listed;
}

function Field({ field, listed }: FieldProps) {
  const name = FIELD_WORDS[field.field];
  const largest = field.values[0]?.value.count ?? 1;
  return (
    <section aria-label={name}>
      <h2>
        {name} <span className="font-normal">{fewWords(field.few)}</span>
      </h2>
      <table className="mt-1 w-full text-[12.5px]">
        <thead className="sr-only">
          <tr>
            <th>{name}</th>
            <th>Count</th>
            <th>Share</th>
            <th>Usual</th>
          </tr>
        </thead>
        <tbody>
          {field.values.map(({ value, share, usual, chance, filter }) => {
            const unusual = usual !== null && chance !== null && chance < UNUSUAL && value.count > usual;
            return (
              <tr key={String(value.value)} className="border-b border-dotted border-rule">
                <td className="max-w-56 truncate py-1 pr-2">
                  {valueWords(field.field, value.value, value.label)}
                </td>
                <td className="w-32">
                  <Link
                    to={deskPath(filter, listed)}
                    className="flex min-h-6 items-center gap-1.5 text-press"
                    aria-label={`${count(value.count)} of ${valueWords(field.field, value.value, value.label)}`}
                  >
                    <span
                      aria-hidden
                      className="h-2.5 bg-rule-strong"
                      style={{ width: `${(value.count / largest) * 60}%` }}
                    />
                    <span className="border-b-[1.5px] border-press font-semibold">{count(value.count)}</span>
                  </Link>
                </td>
                <td className="w-12 text-right text-ink-2">{percent(share)}</td>
                <td className={`w-36 pl-3 ${unusual ? 'font-semibold' : 'text-ink-2'}`}>
                  {usual === null ? '' : `${unusual ? '▲ ' : ''}usually ${rounded(usual)}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {field.values.length === 0 && <p className="text-ink-2">Not known for any of them.</p>}
    </section>
  );
}
