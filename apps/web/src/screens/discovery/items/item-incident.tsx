import type { ItemDetail } from '@lantern/contracts/discovery';
import { SEVERITIES, type Severity } from '@lantern/core/policy';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { useItemIncident } from '../../../data/discovery-follow-up';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { SelectField, TextArea } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { EditorPopover } from '../../../ui/popover';
import { errorSentence } from '../../../wording/errors';
import { SEVERITY_WORDS } from '../../../wording/terms';

/** Hands an item to the desk, where it is triaged like everything else; or leads to the incident that it became. */
export function ItemIncident({ item }: { readonly item: ItemDetail }) {
  const mayRun = useMay('discovery.run');
  const [severity, setSeverity] = useState<Severity>('medium');
  const [note, setNote] = useState('');
  const open = useItemIncident(item.id);
  if (item.incident !== null)
    return (
      <p className="mt-2 text-[12.5px]">
        It is{' '}
        <Link className="part" to={`/incidents/${item.incident}`}>
          incident {item.incident}
        </Link>
        .
      </p>
    );
  if (!mayRun || item.found.length === 0) return null;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    open.mutate({ severity, note });
  };
  return (
    <p className="mt-2">
      <EditorPopover
        wide
        label="Create incident"
        trigger={
          <button type="button" className="part text-[12.5px]">
            Create incident
          </button>
        }
      >
        <form className="flex flex-col gap-2" onSubmit={submit}>
          <p className="text-[12.5px] text-ink-2">
            The incident holds the path, the findings and the masked evidence. It counts as reported by
            Discovery.
          </p>
          <SelectField
            label="Severity"
            value={severity}
            options={SEVERITIES.map((value) => ({ value, label: SEVERITY_WORDS[value] }))}
            onChange={setSeverity}
          />
          <TextArea
            label="Note for the analyst"
            rows={3}
            maxLength={2_000}
            value={note}
            onChange={({ target }) => setNote(target.value)}
          />
          {open.error && <Notice look="stop">{errorSentence(open.error)}</Notice>}
          <Button
            look="main"
            type="submit"
            className="self-start"
            refusal={open.isPending ? 'It is being created' : undefined}
          >
            Create incident
          </Button>
        </form>
      </EditorPopover>
    </p>
  );
}
