import type { ChooserView, DocumentDetail } from '@lantern/contracts';
import { ChooseLabel } from '../choose-label';
import { LoweringReason } from '../lowering-reason';
import { SuggestedLabel } from '../suggested-label';
import { LabelTag } from '../label-tag';

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
      {!readOnly && <SuggestedLabel suggestion={suggestion} chooser={chooser} onTake={setLabel} />}
      {document && (
        <LoweringReason
          chooser={chooser}
          before={document.label?.id ?? null}
          after={label}
          reason={reason}
          onChange={setReason}
        />
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
        Use this label
      </button>
    </p>
  );
}
