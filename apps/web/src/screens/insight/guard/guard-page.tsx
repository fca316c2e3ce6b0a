import type { GuardView } from '@lantern/contracts/insight';
import { deskPath } from '@lantern/core/incidents';
import { Link } from 'react-router';
import { type PeriodAsked, useGuard } from '../../../data/insight';
import { Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { count, percent } from '../../../wording/insight';
import { HOW_WORDS, SHIFT_WORDS } from '../../../wording/labels';
import { CHANNEL_WORDS } from '../../../wording/terms';
import { InsightPage } from '../insight-page';
import { PeriodBar } from '../period-bar';
import { Strip } from '../strip';
import { useInsight } from '../use-insight';

/** How well what is sensitive is labelled and guarded, over time. */
export function GuardPage() {
  const { state, asked, change } = useInsight();
  const guard = useGuard(asked);
  return (
    <InsightPage bar={<PeriodBar state={state} onChange={change} />}>
      {guard.error && <Notice look="stop">{errorSentence(guard.error)}</Notice>}
      {!guard.data && !guard.error && <Loading what="figures" />}
      {guard.data && (
        <div className={`grid grid-cols-2 gap-x-8 gap-y-6 ${guard.isPlaceholderData ? 'opacity-60' : ''}`}>
          <Labelled view={guard.data} />
          <Labels view={guard.data} asked={asked} />
          <Channels view={guard.data} />
          <Covered view={guard.data} />
          <Days view={guard.data} />
        </div>
      )}
    </InsightPage>
  );
}

const HEAD = 'py-1 text-left font-normal text-ink-2';
const ROW = 'border-b border-dotted border-rule';

function Labelled({ view }: { readonly view: GuardView }) {
  const { sensitive, labelled } = view;
  return (
    <section aria-label="Sensitive and labelled">
      <h2>Sensitive content that carried a label</h2>
      <p className="mt-1">
        <Link className="part" to={deskPath(labelled.filter)}>
          {count(labelled.count)}
        </Link>{' '}
        of{' '}
        <Link className="part" to={deskPath(sensitive.filter)}>
          {count(sensitive.count)} incidents
        </Link>
        {sensitive.count > 0 && `: ${percent(labelled.count / sensitive.count)}`}
      </p>
      <table className="mt-1 text-[12.5px]">
        <tbody>
          <tr>
            <td className="pr-3 text-ink-2">with findings</td>
            <td>
              <Strip counts={sensitive.counts} spikes={[]} />
            </td>
          </tr>
          <tr>
            <td className="pr-3 text-ink-2">with a label too</td>
            <td>
              <Strip counts={labelled.counts} spikes={[]} />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  );
}

function Labels({ view, asked }: { readonly view: GuardView; readonly asked: PeriodAsked }) {
  const sum = (counts: readonly number[]): number => counts.reduce((total, one) => total + one, 0);
  return (
    <section aria-label="Changes of labels">
      <h2>Changes of labels</h2>
      {view.labelChanges.length === 0 ? (
        <p className="mt-1 text-ink-2">No label was set, raised, lowered or removed in this period.</p>
      ) : (
        <table className="mt-1 w-full text-[12.5px]">
          <thead>
            <tr className="border-b border-rule">
              <th className={HEAD}>Change</th>
              <th className={HEAD}>Over time</th>
              <th className={`${HEAD} text-right`}>Count</th>
            </tr>
          </thead>
          <tbody>
            {view.labelChanges.map(({ how, shift, counts }) => (
              <tr key={`${how} ${shift}`} className={ROW}>
                <td className="py-1">
                  {SHIFT_WORDS[shift]} {HOW_WORDS[how]}
                </td>
                <td>
                  <Strip counts={counts} spikes={[]} />
                </td>
                <td className="text-right">
                  <Link
                    className="part"
                    to={`/labels/changes?${new URLSearchParams({ shift, how, from: asked.from, to: asked.to }).toString()}`}
                  >
                    {count(sum(counts))}
                  </Link>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function Channels({ view }: { readonly view: GuardView }) {
  return (
    <section aria-label="Channels">
      <h2>Kinds of data that rules guard on their way outside</h2>
      <table className="mt-1 w-full text-[12.5px]">
        <thead>
          <tr className="border-b border-rule">
            <th className={HEAD}>Channel</th>
            <th className={`${HEAD} text-right`}>For everybody</th>
            <th className={`${HEAD} text-right`}>For some</th>
            <th className={`${HEAD} text-right`}>Of</th>
            <th className={`${HEAD} text-right`}>Movements</th>
          </tr>
        </thead>
        <tbody>
          {view.channels.map((channel) => (
            <tr key={channel.channel} className={ROW}>
              <td className="py-1">{CHANNEL_WORDS[channel.channel]}</td>
              <td className="text-right">
                <Link className="part" to="/policies/coverage">
                  {count(channel.guardedForAll)}
                </Link>
              </td>
              <td className="text-right">{count(channel.guarded - channel.guardedForAll)}</td>
              <td className="text-right">{count(channel.kinds)}</td>
              <td className="text-right">
                <Link className="part" to={deskPath(channel.filter, 'movements')}>
                  {count(channel.movements)}
                </Link>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Covered({ view }: { readonly view: GuardView }) {
  const { people, machines } = view;
  return (
    <section aria-label="People and machines">
      <h2>People and machines</h2>
      <p className="mt-1">
        {count(people.guarded)} of {count(people.all)} people in the directory are guarded by some rule.
      </p>
      <p className="mt-1">
        {count(machines.heard)} of {count(machines.all)} machines in the directory reported something in this
        period.
      </p>
      {machines.silent.length > 0 && (
        <details className="mt-1 text-[12.5px]">
          <summary className="cursor-pointer text-press">
            {count(machines.all - machines.heard)} machines reported nothing
          </summary>
          <p className="mt-1">
            {machines.silent.join(', ')}
            {machines.all - machines.heard > machines.silent.length ? ' and more' : ''}
          </p>
        </details>
      )}
    </section>
  );
}

/** The record of each day: the state of rules, people and machines cannot be computed afterwards. */
function Days({ view }: { readonly view: GuardView }) {
  const newest = [...view.days].reverse().slice(0, 14);
  return (
    <section aria-label="Day by day" className="col-span-2">
      <h2>Day by day</h2>
      <p className="text-[12.5px] text-ink-2">Recorded once a day, from the day this was first used.</p>
      <table className="mt-1 w-full text-[12.5px]">
        <thead>
          <tr className="border-b border-rule">
            <th className={HEAD}>Day</th>
            <th className={`${HEAD} text-right`}>Kinds of data</th>
            <th className={`${HEAD} text-right`}>Guarded for everybody, all channels</th>
            <th className={`${HEAD} text-right`}>People guarded</th>
            <th className={`${HEAD} text-right`}>Machines heard of in 4 weeks</th>
          </tr>
        </thead>
        <tbody>
          {newest.map((day) => (
            <tr key={day.day} className={ROW}>
              <td className="py-1">{day.day}</td>
              <td className="text-right">{count(day.kinds)}</td>
              <td className="text-right">
                {count(day.guarded)} of {count(day.of)}
              </td>
              <td className="text-right">{count(day.people)}</td>
              <td className="text-right">{count(day.machines)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
