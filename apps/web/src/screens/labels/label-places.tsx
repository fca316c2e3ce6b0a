import { NavLink } from 'react-router';

const PLACES = [
  ['/labels', 'The scale'],
  ['/labels/offers', 'Who can choose them'],
  ['/labels/automatic', 'Set by machines'],
  ['/labels/runs', 'Through places'],
  ['/labels/changes', 'Changed on items'],
  ['/labels/review', 'What changes for people'],
  ['/publish', 'Review and publish'],
] as const;

/** The places around labels, in the order of the work. */
export function LabelPlaces() {
  return (
    <nav
      aria-label="Around labels"
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
