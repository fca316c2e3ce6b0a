import type { ChooserView, LabelSuggestion } from '@lantern/contracts';

interface Props {
  readonly suggestion: LabelSuggestion | null;
  readonly chooser: Pick<ChooserView, 'labels'>;
  readonly onTake: (id: string) => void;
}

/** The label that something calls for, said while it is written. */
export function SuggestedLabel({ suggestion, chooser, onTake }: Props) {
  if (!suggestion) return null;
  const offered = chooser.labels.some(({ id }) => id === suggestion.label);
  return (
    <p
      role="status"
      className="my-1 max-w-3xl border-l-4 border-[var(--teal)] bg-[var(--teal-soft)] px-3 py-1.5 text-[13px]"
    >
      {suggestion.applied ? 'It will carry' : 'This looks like'} <b>{suggestion.name}</b>, because of “
      {suggestion.rule}”.{' '}
      {offered ? (
        <button type="button" className="part" onClick={() => onTake(suggestion.label)}>
          Take {suggestion.name}
        </button>
      ) : (
        !suggestion.applied && 'You cannot choose this label.'
      )}
    </p>
  );
}
