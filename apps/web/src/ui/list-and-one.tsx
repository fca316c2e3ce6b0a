import type { ReactNode } from 'react';

interface Props {
  readonly list: ReactNode;
  readonly listName: string;
  /** What is chosen in the list. */
  readonly one: ReactNode;
  readonly oneName: string;
  /** Column widths, as a class of the grid. */
  readonly columns?: string;
}

/** A list beside the one thing that is chosen in it; each scrolls by itself. */
export function ListAndOne({
  list,
  listName,
  one,
  oneName,
  columns = 'grid-cols-[minmax(320px,5fr)_minmax(0,7fr)]',
}: Props) {
  return (
    <div className={`grid h-full ${columns}`}>
      <section aria-label={listName} className="min-h-0 overflow-auto border-r border-rule">
        {list}
      </section>
      <section aria-label={oneName} className="min-h-0 overflow-auto px-5 py-4">
        {one}
      </section>
    </div>
  );
}

interface RowProps {
  readonly isChosen: boolean;
  readonly onChoose: () => void;
  readonly className?: string;
  readonly children: ReactNode;
}

/** A row of such a list. */
export function ListRow({ isChosen, onChoose, className = '', children }: RowProps) {
  return (
    <button
      type="button"
      aria-current={isChosen}
      onClick={onChoose}
      className={`block w-full border-b border-rule px-4 py-2 text-left hover:bg-press-soft ${isChosen ? 'bg-sheet shadow-[inset_4px_0_0_var(--ink)]' : ''} ${className}`}
    >
      {children}
    </button>
  );
}

/**
 * What an address chooses out of a list: the first where it names none, and nothing while one that was just saved is
 * still on its way, so that no button acts on another one meanwhile.
 */
export function chosenOf<Row extends { readonly id: string }>(
  rows: readonly Row[] | undefined,
  id: string | null,
  isFetching: boolean,
): Row | undefined {
  const named = rows?.find((row) => row.id === id);
  if (named || (id !== null && isFetching)) return named;
  return rows?.[0];
}
