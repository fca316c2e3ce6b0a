import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

interface Props {
  readonly title: string;
  /** Screens of the area: address and name of each. */
  readonly parts: readonly (readonly [to: string, name: string])[];
  /** Buttons at the right end. */
  readonly bar?: ReactNode;
  readonly children: ReactNode;
}

/** Frame of every screen of an area: its title, its screens, and the buttons of the current one. */
export function AreaPage({ title, parts, bar, children }: Props) {
  return (
    <div className="flex h-full flex-col">
      <div className="flex h-[49px] shrink-0 items-end gap-5 border-b border-rule bg-paper px-5 pt-3">
        <h1 className="pb-1">{title}</h1>
        <nav aria-label={`Parts of ${title}`} className="flex gap-1">
          {parts.map(([to, name]) => (
            <NavLink
              key={to}
              end
              to={to}
              className={({ isActive }) =>
                `border-b-2 px-2 pb-1 ${isActive ? 'border-ink font-semibold' : 'border-transparent text-ink-2 hover:border-rule-strong'}`
              }
            >
              {name}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-2 pb-1.5">{bar}</div>
      </div>
      <div className="min-h-0 flex-1">{children}</div>
    </div>
  );
}
