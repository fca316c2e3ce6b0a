import { NavLink } from 'react-router';

const PLACES = [
  ['/policies', 'Rules'],
  ['/policies/texts', 'Texts people read'],
  ['/policies/exchanges', 'Register of exchanges'],
  ['/policies/coverage', 'What is covered'],
  ['/policies/replay', 'Replay'],
  ['/policies/packs', 'Starter packs'],
  ['/publish', 'Review and publish'],
] as const;

/** The places around policies, in the order of the work. */
export function PolicyPlaces() {
  return (
    <nav
      aria-label="Around policies"
      className="mb-3 flex flex-wrap gap-x-5 border-b border-rule pb-2 text-[13px]"
    >
      {PLACES.map(([to, name]) => (
        <NavLink
          key={to}
          to={to}
          end
          className={({ isActive }) => (isActive ? 'font-semibold text-ink' : 'text-press underline')}
        >
          {name}
        </NavLink>
      ))}
    </nav>
  );
}
