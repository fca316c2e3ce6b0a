import type { ReactNode } from 'react';
import { NavLink, useLocation } from 'react-router';

/** Screens of Insight, by the question each answers. */
const QUESTIONS = [
  ['/insight', 'What changed'],
  ['/insight/rules', 'What rules cost'],
  ['/insight/most', 'Who and where'],
  ['/insight/guard', 'How well guarded'],
  ['/insight/improve', 'What to improve'],
  ['/insight/reports', 'Reports'],
] as const;

/** The frame of every screen of Insight: its questions, and what it asks for. */
export function InsightPage({ bar, children }: { readonly bar: ReactNode; readonly children: ReactNode }) {
  const { search } = useLocation();
  return (
    <div className="flex h-full flex-col">
      <div className="border-b border-rule bg-paper px-5 pt-3">
        <div className="flex items-baseline gap-5">
          <h1>Insight</h1>
          <nav aria-label="Questions" className="flex gap-1">
            {QUESTIONS.map(([to, name]) => (
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
