import type { CrossingsView } from '@lantern/contracts/crossings';
import { DOINGS, type FlowService, type Operation } from '@lantern/core/automations';
import { useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useCrossings, useRemovePart, useSavePart } from '../../data/crossings';
import { useMay } from '../../data/session';
import { useDraft } from '../../shared/use-draft';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { chosenOf, ListAndOne, ListRow } from '../../ui/list-and-one';
import { Loading, Notice } from '../../ui/notice';
import { countOf, DOING_WORDS } from '../../wording/crossings';
import { errorSentence } from '../../wording/errors';
import { CrossingsPage } from './crossings-page';
import { Overtaken } from './overtaken';
import { readOpenApiFile } from './open-api-file';

type ServiceRow = CrossingsView['services'][number];
const NEW: Omit<FlowService, 'id'> = { name: '', owner: '', operations: [], ungoverned: null };

/** The register: services that flows can use, and their operations. */
export function ServicesPage() {
  const crossings = useCrossings();
  const mayWrite = useMay('policies.write');
  const [search, setSearch] = useSearchParams();
  const open = search.get('open');
  const rows = crossings.data?.services.map((row) => ({ ...row, id: row.service.id }));
  const chosen = open === 'new' ? undefined : chosenOf(rows, open, crossings.isFetching);
  return (
    <CrossingsPage
      bar={
        <Button
          look="main"
          refusal={mayWrite ? undefined : 'Your account may not change it.'}
          onClick={() => setSearch({ open: 'new' })}
        >
          Add service
        </Button>
      }
    >
      <ListAndOne
        columns="grid-cols-[minmax(280px,4fr)_minmax(0,8fr)]"
        listName="Services"
        list={
          <>
            {crossings.isPending && <Loading what="the services" />}
            {crossings.error && <Notice look="stop">{errorSentence(crossings.error)}</Notice>}
            <ol>
              {rows?.map(({ id, service, uses, state }) => (
                <li key={id}>
                  <ListRow isChosen={id === chosen?.id} onChoose={() => setSearch({ open: id })}>
                    <b>{service.name}</b>
                    <span className="block text-[12.5px] text-ink-2">
                      {countOf(service.operations.length, 'operation')} · used by{' '}
                      {countOf(uses, 'automation')}
                      {service.ungoverned && ' · cannot be governed'}
                      {state !== 'published' && ' · unpublished'}
                    </span>
                  </ListRow>
                </li>
              ))}
            </ol>
          </>
        }
        oneName="One service"
        one={
          (open === 'new' || chosen) && (
            <ServiceForm
              key={chosen?.id ?? 'new'}
              row={chosen ?? null}
              mayWrite={mayWrite}
              onDone={(id) => setSearch(id ? { open: id } : {})}
            />
          )
        }
      />
    </CrossingsPage>
  );
}

interface FormProps {
  readonly row: ServiceRow | null;
  readonly mayWrite: boolean;
  readonly onDone: (id: string | null) => void;
}

function ServiceForm({ row, mayWrite, onDone }: FormProps) {
  const save = useSavePart('service');
  const remove = useRemovePart('service');
  const { draft, setDraft, version, isOvertaken, takeTheirs, wasSaved } = useDraft<Omit<FlowService, 'id'>>(
    row && { definition: row.service, version: row.version },
    NEW,
  );
  const set = (change: Partial<FlowService>) => setDraft({ ...draft, ...change });
  const failed = save.error ?? remove.error;
  return (
    <form
      aria-label={row ? `Edit ${row.service.name}` : 'New service'}
      className="flex max-w-4xl flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        const { name, owner, operations, ungoverned } = draft;
        save.mutate(
          {
            id: row?.service.id ?? null,
            definition: { name, owner, operations, ungoverned },
            ...(version === undefined ? {} : { version }),
          },
          {
            onSuccess: ({ id }) => {
              toast('Draft saved');
              wasSaved();
              onDone(id);
            },
          },
        );
      }}
    >
      {isOvertaken && row && <Overtaken by={row.updatedBy} onTake={takeTheirs} />}
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Name"
          required
          maxLength={120}
          readOnly={!mayWrite}
          value={draft.name}
          onChange={({ target }) => set({ name: target.value })}
        />
        <TextField
          label="Owner (address)"
          maxLength={254}
          readOnly={!mayWrite}
          value={draft.owner}
          onChange={({ target }) => set({ owner: target.value })}
        />
      </div>
      <Operations
        operations={draft.operations}
        mayWrite={mayWrite}
        onChange={(operations) => set({ operations })}
        onRead={(title, operations) => set({ operations, name: draft.name || title })}
      />
      <TextField
        label="Reason why it cannot be governed (leave empty if it can)"
        maxLength={500}
        readOnly={!mayWrite}
        value={draft.ungoverned ?? ''}
        onChange={({ target }) => set({ ungoverned: target.value === '' ? null : target.value })}
      />
      {failed && <Notice look="stop">{errorSentence(failed)}</Notice>}
      {mayWrite && (
        <span className="flex gap-2">
          <Button look="main" type="submit">
            {save.isPending ? 'Saving …' : 'Save draft'}
          </Button>
          {row && (
            <AskFirst
              name="Remove service"
              effect={`This removes ${row.service.name} from the register. ${row.uses === 0 ? 'No automation uses it.' : `${countOf(row.uses, 'automation')} will stop when you publish.`}`}
              does="Remove service"
              onDo={() => remove.mutate(row.service.id, { onSuccess: () => onDone(null) })}
            />
          )}
        </span>
      )}
    </form>
  );
}

interface OperationsProps {
  readonly operations: readonly Operation[];
  readonly mayWrite: boolean;
  readonly onChange: (operations: readonly Operation[]) => void;
  /** Operations read out of a document, with its title. */
  readonly onRead: (title: string, operations: readonly Operation[]) => void;
}

function Operations({ operations, mayWrite, onChange, onRead }: OperationsProps) {
  const picker = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState<string | null>(null);
  const set = (at: number, change: Partial<Operation>) =>
    onChange(operations.map((each, index) => (index === at ? { ...each, ...change } : each)));
  const take = async (file: File) => {
    const read = await readOpenApiFile(file);
    if (read.status === 'refused') return setSaid(read.why);
    const known = new Set(operations.map(({ id }) => id));
    const fresh = read.reading.operations.filter(({ id }) => !known.has(id));
    onRead(read.reading.title, [...operations, ...fresh]);
    const left = read.reading.leftOut.length;
    setSaid(
      `${countOf(fresh.length, 'operation')} read from ${file.name}.${left > 0 ? ` ${countOf(left, 'path')} left out because of references to other documents, or because of the limit.` : ''}`,
    );
  };
  return (
    <fieldset>
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Operations</legend>
      <table className="w-full text-left">
        <thead className="text-[12.5px] text-ink-2">
          <tr>
            <th className="font-normal">Id</th>
            <th className="font-normal">Name</th>
            <th className="font-normal">What it does with data</th>
            <th className="font-normal">Calls an address</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {operations.map((operation, at) => (
            <OperationRow
              key={at}
              operation={operation}
              at={at}
              mayWrite={mayWrite}
              onChange={(change) => set(at, change)}
              onRemove={() => onChange(operations.filter((_each, index) => index !== at))}
            />
          ))}
        </tbody>
      </table>
      {said && <p role="status">{said}</p>}
      {mayWrite && (
        <span className="mt-2 flex gap-2">
          <Button
            onClick={() =>
              onChange([...operations, { id: '', name: '', does: ['reads'], takesAddress: false }])
            }
          >
            Add operation
          </Button>
          <input
            ref={picker}
            type="file"
            aria-label="OpenAPI document"
            className="sr-only"
            tabIndex={-1}
            accept=".json,.yaml,.yml"
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              event.target.value = '';
              if (file) void take(file);
            }}
          />
          <Button onClick={() => picker.current?.click()}>Import OpenAPI document</Button>
        </span>
      )}
    </fieldset>
  );
}

interface RowProps {
  readonly operation: Operation;
  readonly at: number;
  readonly mayWrite: boolean;
  readonly onChange: (change: Partial<Operation>) => void;
  readonly onRemove: () => void;
}

function OperationRow({ operation, at, mayWrite, onChange, onRemove }: RowProps) {
  return (
    <tr className="border-b border-dotted border-rule">
      <td className="pr-2">
        <input
          aria-label={`Operation ${at + 1}`}
          className="field !py-0.5 font-mono text-[12.5px]"
          required
          maxLength={120}
          readOnly={!mayWrite}
          value={operation.id}
          onChange={({ target }) => onChange({ id: target.value })}
        />
      </td>
      <td className="pr-2">
        <input
          aria-label={`Name of operation ${at + 1}`}
          className="field !py-0.5"
          maxLength={120}
          readOnly={!mayWrite}
          value={operation.name}
          onChange={({ target }) => onChange({ name: target.value })}
        />
      </td>
      <td>
        <span className="flex gap-3">
          {DOINGS.map((doing) => (
            <label key={doing} className="flex items-center gap-1">
              <input
                type="checkbox"
                disabled={!mayWrite}
                checked={operation.does.includes(doing)}
                onChange={({ target }) =>
                  onChange({
                    does: target.checked
                      ? [...operation.does, doing]
                      : operation.does.filter((each) => each !== doing),
                  })
                }
              />
              {DOING_WORDS[doing]}
            </label>
          ))}
        </span>
      </td>
      <td>
        <input
          type="checkbox"
          aria-label={`Operation ${at + 1} calls an address`}
          disabled={!mayWrite}
          checked={operation.takesAddress}
          onChange={({ target }) => onChange({ takesAddress: target.checked })}
        />
      </td>
      <td>
        {mayWrite && (
          <Button look="quiet" aria-label={`Remove operation ${operation.id}`} onClick={onRemove}>
            ×
          </Button>
        )}
      </td>
    </tr>
  );
}
