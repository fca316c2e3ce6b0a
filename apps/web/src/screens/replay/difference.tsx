import type { ReplayItem, ReplayView } from '@lantern/contracts';
import type { Shift, ShiftCounts } from '@lantern/core/insight';
import type { Channel } from '@lantern/core/movement';
import type { Answer } from '@lantern/core/policy';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { Beam } from '../../shared/beam/beam';
import { useReplayItems } from '../../data/replays';
import { Button } from '../../ui/button';
import { Loading } from '../../ui/notice';
import { ANSWER_WORDS, CHANNEL_WORDS, SHIFT_WORDS } from '../../wording/terms';
import { exactTime, shortTime } from '../../wording/times';
import { changedGroups, CHANGES, perDay } from './figures';

type Figures = NonNullable<ReplayView['difference']>;
type Changed = Exclude<Shift, 'same'>;

/** What changes, in figures that open what they count. */
export function Difference({
  view,
  difference,
}: {
  readonly view: ReplayView;
  readonly difference: Figures;
}) {
  const [shift, setShift] = useState<Changed | null>(null);
  const { shifts, interrupted, falsePositives, harm } = difference;
  return (
    <>
      <div className="my-3 flex flex-wrap gap-2" role="group" aria-label="What changes">
        {CHANGES.map((each) => (
          <Button
            key={each}
            look={shift === each ? 'main' : 'plain'}
            aria-pressed={shift === each}
            onClick={() => setShift(shift === each ? null : each)}
          >
            <b className="font-head text-[17px]">{shifts[each]}</b> {SHIFT_WORDS[each]}
          </Button>
        ))}
        <span className="self-center text-ink-2">{shifts.same} answered the same</span>
      </div>
      <ul className="mb-3 list-disc pl-5 text-[13.5px]">
        <li>
          People interrupted per day: <b>{perDay(interrupted.before)}</b> now,{' '}
          <b>{perDay(interrupted.after)}</b> by the drafts, over {interrupted.days}{' '}
          {interrupted.days === 1 ? 'day' : 'days'}.
        </li>
        <li>
          Known false positives that would no longer occur: <b>{falsePositives.gone}</b> of{' '}
          {falsePositives.gone + falsePositives.kept}.
        </li>
        <li className={harm.missed > 0 ? 'text-stop' : ''}>
          Known leaks that would be missed: <b>{harm.missed}</b> of {harm.missed + harm.named}.
        </li>
      </ul>
      <div className="grid grid-cols-2 gap-x-8">
        <Groups title="By rule" groups={difference.byRule} names={view.rules} />
        <Groups title="By department" groups={difference.byDepartment} />
      </div>
      <Items id={view.id} shift={shift} left={difference.itemsLeftOut} rules={view.rules} />
    </>
  );
}

interface GroupsProps {
  readonly title: string;
  readonly groups: Readonly<Record<string, ShiftCounts>>;
  readonly names?: Readonly<Record<string, string>>;
}

function Groups({ title, groups, names = {} }: GroupsProps) {
  const changed = changedGroups(groups);
  if (changed.length === 0) return null;
  return (
    <table className="mb-4 self-start text-[13px]">
      <caption className="text-left font-semibold">{title}</caption>
      <thead>
        <tr className="text-left text-ink-2">
          <th className="font-normal">
            <span className="sr-only">{title}</span>
          </th>
          {CHANGES.map((shift) => (
            <th key={shift} className="pl-3 font-normal">
              {SHIFT_WORDS[shift]}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {changed.slice(0, 12).map(([key, counts]) => (
          <tr key={key} className="border-t border-dotted border-rule align-baseline">
            <th scope="row" className="py-0.5 text-left font-normal">
              {names[key] ?? key}
            </th>
            {CHANGES.map((shift) => (
              <td key={shift} className="pl-3 tabular-nums">
                {counts[shift] || ''}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const ROW_HEIGHT = 54;

interface ItemsProps {
  readonly id: string;
  readonly shift: Changed | null;
  readonly left: number;
  readonly rules: Readonly<Record<string, string>>;
}

/** The movements that are answered otherwise; of thousands only those in sight are drawn. */
function Items({ id, shift, left, rules }: ItemsProps) {
  const items = useReplayItems(id, shift);
  const scroller = useRef<HTMLDivElement>(null);
  const rows = items.data ?? [];
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 8,
  });
  if (items.isPending) return <Loading what="the movements" />;
  if (rows.length === 0) return <p className="text-ink-2">No movement gets a different answer.</p>;
  return (
    <section aria-label="Movements with a different answer">
      <h2 className="mb-1">
        {rows.length} {rows.length === 1 ? 'movement' : 'movements'}{' '}
        {shift ? SHIFT_WORDS[shift] : 'with a different answer'}
      </h2>
      {left > 0 && <p className="text-[12.5px] text-ink-2">{left} more are counted above but not listed.</p>}
      <div
        ref={scroller}
        tabIndex={0}
        aria-label="Movements"
        className="max-h-[420px] overflow-auto border-y border-rule"
      >
        <ol className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index];
            return row ? (
              <li
                key={row.id}
                className="absolute inset-x-0 top-0 border-b border-dotted border-rule px-1 py-1"
                style={{ height: ROW_HEIGHT, transform: `translateY(${item.start}px)` }}
              >
                <Row row={row} rules={rules} />
              </li>
            ) : null;
          })}
        </ol>
      </div>
    </section>
  );
}

const words = (answer: string | null): string =>
  answer === null ? 'nothing' : ANSWER_WORDS[answer as Answer];

function Row({ row, rules }: { readonly row: ReplayItem; readonly rules: Readonly<Record<string, string>> }) {
  return (
    <>
      <p className="flex gap-3 text-[13px]">
        <span className="whitespace-nowrap">
          {words(row.before)} → <b>{words(row.after)}</b>
        </span>
        <span className="flex-1 truncate text-ink-2">
          {row.department}
          {row.rule && `, ${rules[row.rule] ?? 'a rule that was removed'}`}
        </span>
        {row.incident !== null && (
          <Link className="part" to={`/incidents/${row.incident}?show=all`}>
            incident {row.incident}
          </Link>
        )}
        <span className="whitespace-nowrap text-ink-2" title={exactTime(row.at)}>
          {shortTime(row.at, new Date())}
        </span>
      </p>
      <Beam
        from={row.person}
        by={CHANNEL_WORDS[row.channel as Channel] ?? row.channel}
        to={row.destinations[0] ?? ''}
        answer={(row.after ?? 'note') as Answer}
        lit={false}
      />
    </>
  );
}
