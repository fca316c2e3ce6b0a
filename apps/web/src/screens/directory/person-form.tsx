import type { DirectoryPerson } from '@lantern/contracts/directory';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useSavePerson } from '../../data/directory';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';

interface Props {
  readonly person?: DirectoryPerson;
  readonly done: (person: DirectoryPerson) => void;
  readonly cancel?: () => void;
}

/** Somebody who is entered by hand. */
export function PersonForm({ person, done, cancel }: Props) {
  const save = useSavePerson(person?.id ?? null);
  const [fields, setFields] = useState({
    address: person?.address ?? '',
    name: person?.name ?? '',
    department: person?.department ?? '',
    office: person?.office ?? '',
    title: person?.title ?? '',
    groups: person?.groups.join('; ') ?? '',
    manager: person?.manager ?? '',
    language: person?.language ?? 'en',
    zone: person?.zone ?? '',
  });
  const field = (name: keyof typeof fields) => ({
    value: fields[name],
    onChange: (event: { readonly target: { readonly value: string } }) =>
      setFields({ ...fields, [name]: event.target.value }),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const groups = fields.groups.split(/[;,]/).map((group) => group.trim());
    save.mutate(
      { ...fields, groups: groups.filter(Boolean), manager: fields.manager.trim() || null },
      { onSuccess: (saved) => (toast(`${saved.name} saved.`), done(saved)) },
    );
  };
  return (
    <form onSubmit={submit} aria-label="Person" className="grid max-w-2xl grid-cols-2 gap-3">
      <TextField label="Name" required maxLength={120} {...field('name')} />
      <TextField label="Mail address" type="email" required maxLength={254} {...field('address')} />
      <TextField label="Department" maxLength={120} {...field('department')} />
      <TextField label="Office" maxLength={120} {...field('office')} />
      <TextField label="Job title" maxLength={120} {...field('title')} />
      <TextField
        label="Address of the manager"
        type="email"
        maxLength={254}
        hint="Incidents of this person can be sent here."
        {...field('manager')}
      />
      <TextField label="Groups" hint="Separate groups with semicolons." {...field('groups')} />
      <TextField
        label="Language"
        required
        pattern="[a-z]{2,3}"
        hint="Two letters, such as en or de. Messages to this person use it."
        {...field('language')}
      />
      <TextField
        label="Time zone"
        maxLength={60}
        placeholder="Europe/Oslo"
        hint="Rules about the time of day can use it. Leave it empty to use the zone of the rule."
        {...field('zone')}
      />
      {save.isError && (
        <div className="col-span-2">
          <Notice look="stop">{errorSentence(save.error)}</Notice>
        </div>
      )}
      <div className="col-span-2 flex gap-2">
        <Button look="main" type="submit" refusal={save.isPending ? 'Saving …' : undefined}>
          Save person
        </Button>
        {cancel && (
          <Button look="quiet" onClick={cancel}>
            Cancel
          </Button>
        )}
      </div>
    </form>
  );
}
