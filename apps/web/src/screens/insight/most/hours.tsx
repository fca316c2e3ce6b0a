import type { MostView } from '@lantern/contracts/insight';
import { allOf, deskPath, printFilter } from '@lantern/core/incidents';
import { inWeekHour } from '@lantern/core/insight';
import { Link } from 'react-router';
import type { PeriodAsked } from '../../../data/insight';
import { filterOf } from '../../../shared/filter/filter-of';
import { count, WEEKDAYS } from '../../../wording/insight';
import type { InsightState } from '../insight-state';

interface Props {
  readonly view: MostView;
  readonly state: InsightState;
  readonly asked: PeriodAsked;
}

const HOURS = Array.from({ length: 24 }, (_, hour) => hour);

/** Counts by weekday and hour: the larger the square, the more. */
export function Hours({ view, state, asked }: Props) {
  const counts = new Map(view.hours.map(({ weekday, hour, count: found }) => [`${weekday} ${hour}`, found]));
  const most = Math.max(1, ...counts.values());
  const period = { from: Date.parse(asked.from), to: Date.parse(asked.to) };
  const link = (weekday: number, hour: number): string | null => {
    const hours = inWeekHour(period, asked.zone, { weekday, hour });
    return hours && deskPath(printFilter(allOf([hours, filterOf(view.filter)])), state.listed);
  };
  return (
    <section aria-label="Hours" className="col-span-2 min-w-0">
      <h2>
        Hours <span className="font-normal">by the clock of {asked.zone.replace('_', ' ')}</span>
      </h2>
      <table className="mt-1 text-[11px]">
        <thead>
          <tr>
            <td />
            {HOURS.map((hour) => (
              <th key={hour} scope="col" className="w-6 text-center font-normal text-ink-2">
                {hour % 3 === 0 ? hour : <span className="sr-only">{hour}</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {WEEKDAYS.map((name, weekday) => (
            <tr key={name}>
              <th scope="row" className="pr-2 text-left font-normal text-ink-2">
                {name}
              </th>
              {HOURS.map((hour) => {
                const found = counts.get(`${weekday} ${hour}`) ?? 0;
                return (
                  <td key={hour} className="h-[25px] w-[25px] border border-rule p-0 text-center">
                    {found > 0 && (
                      <Square
                        found={found}
                        most={most}
                        to={link(weekday, hour)}
                        name={`${name} ${hour}:00`}
                      />
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-[12px] text-ink-2">
        {link(0, 8) === null
          ? 'The period has too many weeks to list one hour of the week. Choose a shorter one.'
          : 'A square opens what it counts.'}
      </p>
    </section>
  );
}

function Square({
  found,
  most,
  to,
  name,
}: {
  readonly found: number;
  readonly most: number;
  readonly to: string | null;
  readonly name: string;
}) {
  const size = 4 + Math.round(16 * Math.sqrt(found / most));
  const words = `${name}: ${count(found)}`;
  const square = <span aria-hidden className="block bg-ink-2" style={{ width: size, height: size }} />;
  const frame = 'flex h-6 w-6 items-center justify-center';
  return to ? (
    <Link to={to} className={`${frame} hover:bg-press-soft`} title={words} aria-label={words}>
      {square}
    </Link>
  ) : (
    <span className={frame} title={words} role="img" aria-label={words}>
      {square}
    </span>
  );
}
