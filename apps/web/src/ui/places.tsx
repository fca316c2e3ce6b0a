import { NavLink } from 'react-router';

interface Props {
  /** What the places are around, for those who hear the page. */
  readonly label: string;
  /** Address and name of each, in the order of the work. */
  readonly places: readonly (readonly [string, string])[];
}

/** Links to the places around a main view. */
export function Places({ label, places }: Props) {
  return (
    <nav aria-label={label} className="mb-3 flex flex-wrap gap-x-5 border-b border-rule pb-2 text-[13px]">
      {places.map(([to, name]) => (
        <NavLink
          key={to}
          to={to}
          end
          className={({ isActive }) =>
            `inline-block min-h-6 ${isActive ? 'font-semibold text-ink' : 'text-press underline'}`
          }
        >
          {name}
        </NavLink>
      ))}
    </nav>
  );
}
