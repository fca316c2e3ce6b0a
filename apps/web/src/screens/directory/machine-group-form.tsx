import type { MachineGroupRequest, MachineGroupView } from '@lantern/contracts/machines';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useRemoveMachineGroup, useSaveMachineGroup, useTryMachineGroup } from '../../data/machines';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextArea, TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { Effects } from './effects';
import { machines } from '../../wording/directory';
import { errorSentence } from '../../wording/errors';

const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);

interface Props {
  readonly group: MachineGroupView | null;
  readonly done: () => void;
}

/** A group of machines told by networks, serial numbers and names. */
export function MachineGroupForm({ group, done }: Props) {
  const save = useSaveMachineGroup(group?.id ?? null);
  const remove = useRemoveMachineGroup();
  const trial = useTryMachineGroup();
  const [fields, setFields] = useState({
    name: group?.name ?? '',
    about: group?.about ?? '',
    networks: group?.networks.join('\n') ?? '',
    serials: group?.serials.join('\n') ?? '',
    names: group?.names.join('\n') ?? '',
  });
  const text = (name: keyof typeof fields) => ({
    value: fields[name],
    onChange: (event: { readonly target: { readonly value: string } }) => {
      setFields({ ...fields, [name]: event.target.value });
      trial.reset();
    },
  });
  const request: MachineGroupRequest = {
    ...{ name: fields.name, about: fields.about, networks: linesOf(fields.networks) },
    ...{ serials: linesOf(fields.serials), names: linesOf(fields.names) },
  };
  const isEmpty = request.networks.length + request.serials.length + request.names.length === 0;
  const refusal =
    fields.name.trim().length < 2
      ? 'Enter a name first'
      : isEmpty
        ? 'Enter a network, a serial number or a name first'
        : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(request, { onSuccess: () => (toast(`${fields.name} saved.`), done()) });
  };
  return (
    <form
      onSubmit={submit}
      aria-label={group ? `Group ${group.name}` : 'New group of machines'}
      className="mb-3 flex max-w-4xl flex-col gap-3 bg-sunk px-3 py-3"
    >
      <div className="grid grid-cols-2 gap-3">
        <TextField label="Name" maxLength={120} {...text('name')} />
        <TextField label="What it is for" maxLength={300} {...text('about')} />
      </div>
      <div className="grid grid-cols-3 gap-3">
        <TextArea
          label="Networks and addresses"
          hint="One per line: 10.1.0.0/16, 10.1.0.5 - 10.1.0.40 or 10.1.0.5"
          rows={4}
          mono
          {...text('networks')}
        />
        <TextArea
          label="Serial numbers"
          hint="One per line: A100 or A100 - A199"
          rows={4}
          mono
          {...text('serials')}
        />
        <TextArea label="Names that begin with" hint="One per line: QUAY-" rows={4} mono {...text('names')} />
      </div>
      <p className="text-[12.5px] text-ink-2">
        A machine is a member if it meets one line of each field you fill in. Members change by themselves
        when the inventory changes.
      </p>
      <div className="flex flex-wrap items-start gap-2">
        <Button look="main" type="submit" refusal={refusal} reasonIsShown>
          Save group
        </Button>
        <Button onClick={() => trial.mutate({ request, of: group?.id ?? null })} refusal={refusal}>
          Preview members
        </Button>
        <Button onClick={done}>Cancel</Button>
        {group && (
          <AskFirst
            name="Remove group"
            effect="The group is removed. Its machines stay."
            does="Remove group"
            onDo={() => remove.mutate(group.id, { onSuccess: done })}
          />
        )}
      </div>
      {[save.error, trial.error, remove.error].map(
        (error, at) =>
          error && (
            <Notice key={at} look="stop">
              {errorSentence(error)}
            </Notice>
          ),
      )}
      {trial.data && (
        <Notice look="go">
          {trial.data.machines === 0
            ? 'No machine meets these conditions now.'
            : `${machines(trial.data.machines)}: ${trial.data.examples.join(', ')}${trial.data.machines > trial.data.examples.length ? ' and others' : ''}.`}
          <Effects
            effects={trial.data.effects}
            counted={machines}
            none="Policies apply to the same machines as before."
          />
        </Notice>
      )}
    </form>
  );
}
