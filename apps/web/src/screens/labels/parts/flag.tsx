/** The flag of a label: its colour beside its name; the name is what tells it. */
export function Flag({
  colour,
  name,
  quiet = false,
}: {
  readonly colour: string;
  readonly name: string;
  readonly quiet?: boolean;
}) {
  return (
    <span className={`inline-flex items-center gap-1.5 align-bottom ${quiet ? 'text-ink-2' : ''}`}>
      <svg aria-hidden viewBox="0 0 14 14" className="h-3.5 w-3.5 shrink-0">
        <path d="M2.5 1v12" stroke="currentColor" strokeWidth="1.4" />
        <path d="M3 1.5h9.5L10 4.75 12.5 8H3z" fill={colour} />
      </svg>
      {name}
    </span>
  );
}
