import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { PeriodAsked } from '../../data/insight';
import { type InsightState, instantsOf, readInsight, writeInsight } from './insight-state';

const MINUTE_MS = 60_000;
const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The state of Insight in the address bar, and the period it asks for. */
export function useInsight(): {
  readonly state: InsightState;
  readonly asked: PeriodAsked;
  readonly change: (changed: Partial<InsightState>) => void;
} {
  const [search, setSearch] = useSearchParams();
  const [now, setNow] = useState(() => new Date());
  // Periods that end now go on.
  useEffect(() => {
    const timer = setInterval(() => setNow(new Date()), MINUTE_MS);
    return () => clearInterval(timer);
  }, []);
  const state = readInsight(search);
  const { from, to } = instantsOf(state.period, now);
  return {
    state,
    asked: { from: from.toISOString(), to: to.toISOString(), zone: ZONE, filter: state.filter },
    change: (changed) => setSearch(writeInsight({ ...state, ...changed })),
  };
}
