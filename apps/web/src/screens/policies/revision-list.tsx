import type { RevisionView } from '@lantern/contracts';
import { useState } from 'react';
import { toast } from 'sonner';
import { useComparison, useNames, useRevisions, useRollBack } from '../../data/policies';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { SelectField, TextArea } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { EditorPopover } from '../../ui/popover';
import { errorSentence } from '../../wording/errors';
import { exactTime } from '../../wording/times';
import { ChangeList } from './change-list';

interface ListProps {
  readonly revisions: readonly RevisionView[];
  readonly onCompare: (number: number) => void;
}

/** Everything that was ever in force, newest first. */
export function RevisionList({ revisions, onCompare }: ListProps) {
  // The newest is the one in force; the drafts beside it are compared anew only later.
  const current = revisions[0]?.number;
  return (
    <ol>
      {revisions.map((revision) => (
        <li key={revision.number} className="border-b border-dotted border-rule py-1.5">
          <b>
            {revision.number}, {revision.name}
          </b>
          <p className="text-[12.5px] text-ink-2" title={exactTime(revision.publishedAt)}>
            {revision.publishedBy},{' '}
            {new Date(revision.publishedAt).toLocaleString('en-GB', {
              dateStyle: 'medium',
              timeStyle: 'short',
            })}
          </p>
          <p className="text-[12.5px]">{revision.reason}</p>
          {revision.brokenSpecimens.length > 0 && (
            <p className="text-[12.5px]">
              Published with failing specimens: {revision.brokenSpecimens.join(', ')}
            </p>
          )}
          <p className="text-[12.5px]">
            <Button look="quiet" onClick={() => onCompare(revision.number)}>
              Compare
            </Button>
            {revision.number !== current && <RollBack revision={revision} />}
          </p>
        </li>
      ))}
    </ol>
  );
}

/** Publishes an old revision once more; the drafts stay as they are. */
function RollBack({ revision }: { readonly revision: RevisionView }) {
  const [reason, setReason] = useState('');
  const rollBack = useRollBack();
  const may = useMay('policies.publish');
  const submit = () =>
    rollBack.mutate(
      { number: revision.number, reason },
      {
        onSuccess: ({ number }) =>
          toast.success(`Revision ${number} is in force, the same as ${revision.number}`),
      },
    );
  if (!may) return null;
  return (
    <EditorPopover
      wide
      label={`Publish revision ${revision.number} again`}
      trigger={
        <button type="button" className="px-2.5 py-1 text-press">
          Publish again
        </button>
      }
    >
      <p className="mb-2 text-[13px]">
        A new revision with the content of revision {revision.number} takes effect at once. The drafts stay as
        they are and show the differences.
      </p>
      <TextArea
        label="Why"
        rows={2}
        maxLength={4000}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      {rollBack.isError && <Notice look="stop">{errorSentence(rollBack.error)}</Notice>}
      <Button look="main" className="mt-2" onClick={submit}>
        Publish revision {revision.number} again
      </Button>
    </EditorPopover>
  );
}

interface ComparedProps {
  readonly from: number;
  /** Null for the drafts. */
  readonly to: number | null;
  readonly onChange: (search: Record<string, string>) => void;
  readonly onClose: () => void;
}

/** Any two revisions, or one and the drafts, side by side. */
export function ComparedRevisions({ from, to, onChange, onClose }: ComparedProps) {
  const compared = useComparison(from, to);
  const revisions = useRevisions();
  const names = useNames();
  const options = (revisions.data ?? []).map(({ number, name }) => ({
    value: String(number),
    label: `${number}, ${name}`,
  }));
  return (
    <section aria-label="Changes between revisions">
      <div className="mb-3 flex items-end gap-3">
        <SelectField
          label="From"
          value={String(from)}
          options={options}
          onChange={(next) => onChange({ from: next, ...(to === null ? {} : { to: String(to) }) })}
        />
        <SelectField
          label="To"
          value={to === null ? 'drafts' : String(to)}
          options={[{ value: 'drafts', label: 'the drafts' }, ...options]}
          onChange={(next) => onChange({ from: String(from), ...(next === 'drafts' ? {} : { to: next }) })}
        />
        <Button onClick={onClose}>Back to the drafts</Button>
      </div>
      {compared.isPending && <Loading what="the two" />}
      {compared.isError && <Notice look="stop">{errorSentence(compared.error)}</Notice>}
      {compared.data?.changes.length === 0 && <p className="text-ink-2">There are no differences.</p>}
      <ChangeList changes={compared.data?.changes ?? []} names={names} linked={to === null} />
    </section>
  );
}
