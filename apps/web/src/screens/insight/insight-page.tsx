import type { ReactNode } from 'react';
import { NavLink, useLocation } from 'react-router';
import { useLimited } from '../../data/session';

/** Screens of Insight, by the question each answers. */
const QUESTIONS = [
  { to: '/insight', name: 'What changed', isForAll: true },
  { to: '/insight/rules', name: 'What rules cost', isForAll: true },
  { to: '/insight/most', name: 'Who and where', isForAll: true },
  // About everybody: not for roles that cover some incidents only.
  { to: '/insight/guard', name: 'How well guarded', isForAll: false },
  { to: '/insight/improve', name: 'What to improve', isForAll: false },
  { to: '/insight/reports', name: 'Reports', isForAll: false },
];

/** The frame of every screen of Insight: its questions, and what it asks for. */
export function InsightPage({ bar, children }: { readonly bar: ReactNode; readonly children: ReactNode }) {
  const { search } = useLocation();
  const limited = useLimited();
  return (
    <div className="flex h-full flex-col">
      <div className="border-b border-rule bg-paper px-5 pt-3">
        <div className="flex items-baseline gap-5">
          <h1>Insight</h1>
          <nav aria-label="Questions" className="flex gap-1">
            {QUESTIONS.filter(({ isForAll }) => isForAll || !limited).map(({ to, name }) => (
              <NavLink
                key={to}
                end
                to={`${to}${search}`}
                className={({ isActive }) =>
                  `border-b-2 px-2 pb-1 ${isActive ? 'border-ink font-semibold' : 'border-transparent text-ink-2 hover:border-rule-strong'}`
                }
              >
                {name}
              </NavLink>
            ))}
          </nav>
        </div>
        {bar}
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">{children}</div>
    </div>
  );
}
