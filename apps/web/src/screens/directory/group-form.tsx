import type { GroupClauseRequest, GroupRequest, GroupTrial, GroupView } from '@lantern/contracts/directory';
import { GROUP_FIELDS, GROUP_TESTS } from '@lantern/core/directory';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useSaveGroup, useTryGroup } from '../../data/directory';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { GROUP_FIELD_WORDS, GROUP_TEST_WORDS, people } from '../../wording/directory';
import { errorSentence } from '../../wording/errors';
import { Effects } from './effects';

type Rows = readonly { readonly clauses: readonly GroupClauseRequest[] }[];

const EMPTY: GroupClauseRequest = { field: 'department', test: 'is', value: '' };

interface Props {
  readonly group?: GroupView;
  readonly done: (group: GroupView) => void;
}

/** A group told by a condition: rows of which one has to fit, with clauses that all have to. */
export function GroupForm({ group, done }: Props) {
  const save = useSaveGroup(group?.id ?? null);
  const trial = useTryGroup();
  const [name, setName] = useState(group?.name ?? '');
  const [about, setAbout] = useState(group?.about ?? '');
  const [rows, setRows] = useState<Rows>(group?.rows ?? [{ clauses: [EMPTY] }]);
  const request: GroupRequest = {
    ...{ name, about },
    rows: rows.map(({ clauses }) => ({ clauses: clauses.map((clause) => ({ ...clause })) })),
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate(request, { onSuccess: (saved) => (toast(`${saved.name} saved.`), done(saved)) });
  };
  const change = (next: Rows) => {
    setRows(next);
    trial.reset();
  };
  const setRow = (at: number, clauses: readonly GroupClauseRequest[]) =>
    change(
      clauses.length === 0
        ? rows.filter((_row, index) => index !== at)
        : rows.map((row, index) => (index === at ? { clauses } : row)),
    );
  const whole =
    name.trim().length >= 2 && rows.every(({ clauses }) => clauses.every(({ value }) => value.trim()));
  const refusal = whole ? undefined : 'Enter a name and every value first';
  return (
    <form onSubmit={submit} aria-label="Group" className="flex max-w-3xl flex-col gap-3">
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Name"
          required
          minLength={2}
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <TextField
          label="What it is for"
          maxLength={300}
          value={about}
          onChange={(event) => setAbout(event.target.value)}
        />
      </div>
      <fieldset className="flex flex-col gap-2">
        <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Members</legend>
        {rows.map(({ clauses }, at) => (
          <Row
            key={at}
            number={at + 1}
            clauses={clauses}
            onChange={(next) => setRow(at, next)}
            isOnly={rows.length === 1}
          />
        ))}
        <div>
          <Button
            onClick={() => change([...rows, { clauses: [EMPTY] }])}
            refusal={rows.length >= 20 ? 'A group has at most 20 alternatives' : undefined}
          >
            Add alternative
          </Button>
        </div>
      </fieldset>
      <div className="flex flex-wrap gap-2">
        <Button
          look="main"
          type="submit"
          refusal={refusal ?? (save.isPending ? 'It is being saved' : undefined)}
        >
          Save group
        </Button>
        <Button
          onClick={() => trial.mutate({ request, of: group?.id ?? null })}
          refusal={refusal}
          reasonIsShown
        >
          Preview members
        </Button>
      </div>
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      {trial.isError && <Notice look="stop">{errorSentence(trial.error)}</Notice>}
      {trial.data && <Trial trial={trial.data} />}
    </form>
  );
}

function Row({
  number,
  clauses,
  onChange,
  isOnly,
}: {
  readonly number: number;
  readonly clauses: readonly GroupClauseRequest[];
  readonly onChange: (clauses: readonly GroupClauseRequest[]) => void;
  readonly isOnly: boolean;
}) {
  return (
    <div
      role="group"
      aria-label={`Alternative ${number}`}
      className="rounded border border-rule bg-sheet p-2"
    >
      {clauses.map((clause, at) => {
        const set = (part: Partial<GroupClauseRequest>) =>
          onChange(clauses.map((each, index) => (index === at ? { ...each, ...part } : each)));
        const isDomain = clause.field === 'domain';
        return (
          <div key={at} className="mb-1.5 flex flex-wrap items-center gap-2">
            <span className="w-8 text-right text-[12.5px] text-ink-2">
              {at > 0 ? 'and' : number > 1 ? 'or' : ''}
            </span>
            <select
              aria-label="Field"
              className="field w-52"
              value={clause.field}
              onChange={(event) => {
                const field = GROUP_FIELDS.find((each) => each === event.target.value) ?? 'department';
                set(field === 'domain' ? { field, test: 'is' } : { field });
              }}
            >
              {GROUP_FIELDS.map((field) => (
                <option key={field} value={field}>
                  {GROUP_FIELD_WORDS[field]}
                </option>
              ))}
            </select>
            <select
              aria-label="Comparison"
              className="field w-32"
              value={clause.test}
              onChange={(event) =>
                set({ test: GROUP_TESTS.find((each) => each === event.target.value) ?? 'is' })
              }
            >
              {GROUP_TESTS.filter((test) => !isDomain || test === 'is').map((test) => (
                <option key={test} value={test}>
                  {GROUP_TEST_WORDS[test]}
                </option>
              ))}
            </select>
            <input
              aria-label="Value"
              className="field w-56"
              maxLength={120}
              value={clause.value}
              onChange={(event) => set({ value: event.target.value })}
            />
            {!(isOnly && clauses.length === 1) && (
              <Button
                look="quiet"
                aria-label={`Remove line ${at + 1} of alternative ${number}`}
                onClick={() => onChange(clauses.filter((_clause, index) => index !== at))}
              >
                Remove
              </Button>
            )}
          </div>
        );
      })}
      <Button
        look="quiet"
        onClick={() => onChange([...clauses, EMPTY])}
        refusal={clauses.length >= 10 ? 'An alternative has at most 10 lines' : undefined}
      >
        Add condition
      </Button>
    </div>
  );
}

function Trial({ trial }: { readonly trial: GroupTrial }) {
  const { examples } = trial;
  const more = trial.people - examples.length;
  return (
    <Notice look="go">
      <p>
        {trial.people === 0
          ? 'Nobody in the directory meets these conditions.'
          : `${people(trial.people)} would be members: ${examples.map(({ name }) => name).join(', ')}${more > 0 ? ` and ${more} more` : ''}.`}
      </p>
      <Effects
        effects={trial.effects}
        none="Rules, offers and exchanges apply to the same people as before."
      />
    </Notice>
  );
}
