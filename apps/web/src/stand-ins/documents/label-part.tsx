import type { ChooserView, DocumentDetail } from '@lantern/contracts';
import { ChooseLabel } from '../choose-label';
import { LabelTag } from '../label-tag';
import { lowers } from './label-decisions';

interface LabelProps {
  readonly document: DocumentDetail | null;
  readonly chooser: ChooserView;
  readonly label: string | null;
  readonly setLabel: (id: string | null) => void;
  readonly readOnly: boolean;
  readonly suggestion: DocumentDetail['suggestion'];
  readonly reason: string;
  readonly setReason: (reason: string) => void;
}

/** The label, what it means, what the content calls for, and why it goes down where it does. */
export function LabelPart(props: LabelProps) {
  const { document, chooser, label, setLabel, readOnly, suggestion, reason, setReason } = props;
  const choice = chooser.labels.find(({ id }) => id === label);
  const goesDown = document !== null && lowers(document.label?.id ?? null, label, chooser);
  return (
    <>
      <div>
        <p className="mb-1 text-[12.5px] font-semibold text-ink-2">Label</p>
        {readOnly ? (
          <LabelTag label={document?.label ?? null} />
        ) : (
          <ChooseLabel
            chooser={chooser}
            chosen={label}
            carried={document?.label ?? null}
            onChoose={setLabel}
          />
        )}
        {!document && chooser.starts.kind === 'proposed' && label === null && (
          <Proposal chooser={chooser} onTake={setLabel} />
        )}
        {choice && <p className="mt-1 text-[12.5px] text-ink-2">{choice.handling}</p>}
      </div>
      {suggestion && suggestion.label !== label && !readOnly && (
        <div
          role="status"
          className="border-l-4 border-[var(--teal)] bg-[var(--teal-soft)] px-3 py-2 text-[13px]"
        >
          This looks like <b>{suggestion.name}</b>, because of “{suggestion.rule}”.
          <p className="mt-1">
            <button
              type="button"
              className="part"
              disabled={!chooser.labels.some(({ id }) => id === suggestion.label)}
              onClick={() => setLabel(suggestion.label)}
            >
              Take {suggestion.name}
            </button>
            {!chooser.labels.some(({ id }) => id === suggestion.label) &&
              ' It is not among those you can choose.'}
          </p>
        </div>
      )}
      {goesDown && chooser.lowering !== 'nothing' && (
        <div>
          <label className="mb-1 block text-[12.5px] font-semibold text-ink-2" htmlFor="reason">
            Why does the label go down? {chooser.lowering === 'second-person' && 'A colleague must agree.'}
          </label>
          <textarea
            id="reason"
            className="field w-full"
            rows={2}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <p className="text-[12px] text-ink-2">The reason is kept with the change.</p>
        </div>
      )}
    </>
  );
}

function Proposal({
  chooser,
  onTake,
}: {
  readonly chooser: ChooserView;
  readonly onTake: (id: string) => void;
}) {
  const proposed = chooser.labels.find(({ id }) => id === chooser.starts.label);
  if (!proposed) return null;
  return (
    <p className="mt-1 text-[13px]">
      Proposed: {proposed.name}.{' '}
      <button type="button" className="part" onClick={() => onTake(proposed.id)}>
        Take it
      </button>
    </p>
  );
}
