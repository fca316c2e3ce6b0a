import type { ChooserView, DriveFileDetail, PlayerView } from '@lantern/contracts';
import { useState } from 'react';
import { toast } from 'sonner';
import { useDriveActs } from '../../data/drive';
import { useChooser } from '../../data/labels-at-work';
import { errorSentence } from '../../wording/errors';
import { ChooseLabel } from '../choose-label';
import { lowers } from '../label-choices';
import { LabelTag } from '../label-tag';
import { LoweringReason } from '../lowering-reason';
import { SuggestedLabel } from '../suggested-label';

interface Props {
  readonly file: DriveFileDetail;
  readonly player: PlayerView;
}

const button = 'rounded border border-rule-strong bg-white px-2.5 py-1';

/** The label of a file: for its owner to choose, for everybody else to read. */
export function LabelOfFile({ file, player }: Props) {
  const chooser = useChooser(player.id, 'document');
  return (
    <section aria-label="Label" className="my-2 flex max-w-md flex-col gap-1.5">
      {file.mine && chooser.data && chooser.data.labels.length > 0 ? (
        <Choice key={file.label?.id ?? ''} file={file} player={player} chooser={chooser.data} />
      ) : (
        file.label && <LabelTag label={file.label} />
      )}
      {file.mine && file.labelKeepsInside && (
        <p className="text-[12.5px]">No one outside can read it, even if it is shared with them.</p>
      )}
      <Lowering file={file} player={player} />
    </section>
  );
}

function Choice({ file, player, chooser }: Props & { readonly chooser: ChooserView }) {
  const acts = useDriveActs(player.id);
  const before = file.label?.id ?? null;
  const [wanted, setWanted] = useState(before);
  const [reason, setReason] = useState('');
  const give = (label: string | null, why: string) =>
    acts.label.mutate(
      { id: file.id, label, ...(why.trim() === '' ? {} : { reason: why.trim() }) },
      {
        onSuccess: (saved) => toast(saved.lowering ? 'A colleague was asked to agree' : 'The label was set'),
      },
    );
  const choose = (label: string | null) => {
    setWanted(label);
    // Going down may cost something: that is asked for first.
    if (label !== before && (chooser.lowering === 'nothing' || !lowers(before, label, chooser)))
      give(label, '');
  };
  const asks = wanted !== before && chooser.lowering !== 'nothing' && lowers(before, wanted, chooser);
  return (
    <>
      <ChooseLabel chooser={chooser} chosen={wanted} carried={file.label} onChoose={choose} />
      <LoweringReason chooser={chooser} before={before} after={wanted} reason={reason} onChange={setReason} />
      {asks && (
        <p className="flex gap-2">
          <button
            type="button"
            className={button}
            disabled={reason.trim().length < 3 || acts.label.isPending}
            onClick={() => give(wanted, reason)}
          >
            Change the label
          </button>
          <button type="button" className={button} onClick={() => setWanted(before)}>
            Discard
          </button>
        </p>
      )}
      <SuggestedLabel suggestion={file.suggestion} chooser={chooser} onTake={choose} />
      {acts.label.isError && (
        <p role="alert" className="text-stop">
          {errorSentence(acts.label.error)}
        </p>
      )}
    </>
  );
}

/** A lower label that waits for a second person: told to its owner, asked of everybody else of the house. */
function Lowering({ file, player }: Props) {
  const acts = useDriveActs(player.id);
  const { lowering } = file;
  if (!lowering) return null;
  const wish = lowering.label ? `be lowered to “${lowering.label}”` : 'be removed';
  return (
    <div role="status" className="border-l-4 border-rule-strong pl-2">
      <p>
        {lowering.mayDecide
          ? `${lowering.by} requests that the label ${wish}: “${lowering.reason}”`
          : `The label should ${wish}. A colleague who can open the file must agree.`}
      </p>
      {lowering.mayDecide && (
        <p className="mt-1 flex gap-2">
          <button
            type="button"
            className={button}
            onClick={() => acts.decide.mutate({ id: file.id, agrees: true })}
          >
            Agree
          </button>
          <button
            type="button"
            className={button}
            onClick={() => acts.decide.mutate({ id: file.id, agrees: false })}
          >
            Keep the label
          </button>
        </p>
      )}
      {acts.decide.isError && (
        <p role="alert" className="text-stop">
          {errorSentence(acts.decide.error)}
        </p>
      )}
    </div>
  );
}
