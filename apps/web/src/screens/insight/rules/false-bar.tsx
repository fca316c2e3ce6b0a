import { wilson } from '@lantern/core/shared';
import { Link } from 'react-router';
import { count, percent, shareWords } from '../../../wording/insight';

interface Props {
  readonly hits: number;
  readonly of: number;
  readonly to: string;
}

/** A share of what was decided: the bar spans where the true share surely lies, the tick is what was counted. */
export function FalseBar({ hits, of, to }: Props) {
  if (of === 0) return <span className="text-ink-2">none decided</span>;
  const { share, least, most } = wilson(hits, of);
  return (
    <Link to={to} title={shareWords({ hits, of, least, most })} className="inline-block w-36 text-right">
      <span className="part">{percent(share)}</span>{' '}
      <span className="text-ink-2">
        {count(hits)} of {count(of)}
      </span>
      <span aria-hidden className="relative mt-1 block h-1.5 w-full bg-sunk">
        <span
          className="absolute inset-y-0 bg-rule-strong"
          style={{ left: `${least * 100}%`, width: `${(most - least) * 100}%` }}
        />
        <span className="absolute -inset-y-px w-0.5 bg-ink" style={{ left: `calc(${share * 100}% - 1px)` }} />
      </span>
    </Link>
  );
}
