import type { CrossingsView } from '@lantern/contracts/crossings';
import type { CrossingSet } from '@lantern/core/automations';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useCrossings, useRemovePart, useSavePart } from '../../data/crossings';
import { useMay } from '../../data/session';
import { useDraft } from '../../shared/use-draft';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { chosenOf, ListAndOne, ListRow } from '../../ui/list-and-one';
import { Empty, Loading, Notice } from '../../ui/notice';
import { countOf, crossingProblemSentence, WORKSPACE_WORDS } from '../../wording/crossings';
import { errorSentence } from '../../wording/errors';
import { AddressLists } from './address-lists';
import { AssistantRules } from './assistant-rules';
import { CircleTable } from './circle-table';
import { CrossingsPage } from './crossings-page';
import { NewThings } from './new-things';
import { Overtaken } from './overtaken';

type SetRow = CrossingsView['sets'][number];
type Draft = Omit<CrossingSet, 'id'>;

const NEW: Draft = {
  ...{ name: '', workspaces: { with: [], without: [] }, circles: [], arrows: [], off: [], operations: [] },
  ...{ laterServices: { kind: 'refused' }, knownOperations: {}, laterOperations: 'refused' },
  ...{ addresses: [], assistants: [], since: null },
};

/** Which service may pass data to which: sets of rules, one at a time. */
export function SetsPage() {
  const crossings = useCrossings();
  const mayWrite = useMay('policies.write');
  const [search, setSearch] = useSearchParams();
  const open = search.get('open');
  const rows = crossings.data?.sets.map((row) => ({ ...row, id: row.set.id }));
  const chosen = open === 'new' ? undefined : chosenOf(rows, open, crossings.isFetching);
  return (
    <CrossingsPage
      bar={
        <Button
          look="main"
          refusal={mayWrite ? undefined : 'Your account may not change it.'}
          onClick={() => setSearch({ open: 'new' })}
        >
          Add set
        </Button>
      }
    >
      <ListAndOne
        columns="grid-cols-[250px_minmax(0,1fr)]"
        listName="Sets"
        list={
          <>
            {crossings.isPending && <Loading what="the sets" />}
            {crossings.error && <Notice look="stop">{errorSentence(crossings.error)}</Notice>}
            {rows?.length === 0 && open !== 'new' && (
              <Empty title="No set yet">Without a set, every flow may do anything.</Empty>
            )}
            <ol>
              {rows?.map((row) => (
                <li key={row.id}>
                  <ListRow isChosen={row.id === chosen?.id} onChoose={() => setSearch({ open: row.id })}>
                    <b>{row.set.name}</b>
                    <span className="block text-[12.5px] text-ink-2">
                      {countOf(row.set.circles.length, 'circle')}
                      {row.problems.length > 0 && (
                        <span className="text-stop"> · {countOf(row.problems.length, 'problem')}</span>
                      )}
                      {row.state !== 'published' && ' · unpublished'}
                    </span>
                  </ListRow>
                </li>
              ))}
            </ol>
            <p className="px-4 py-3 text-[12.5px] text-ink-2">
              All sets apply together. What one set refuses, no other set can allow.
            </p>
          </>
        }
        oneName="One set"
        one={
          crossings.data &&
          (open === 'new' || chosen) && (
            <SetForm
              key={chosen?.id ?? 'new'}
              row={chosen ?? null}
              view={crossings.data}
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
  readonly row: SetRow | null;
  readonly view: CrossingsView;
  readonly mayWrite: boolean;
  readonly onDone: (id: string | null) => void;
}

function SetForm({ row, view, mayWrite, onDone }: FormProps) {
  const save = useSavePart('crossing-set');
  const remove = useRemovePart('crossing-set');
  const { draft, setDraft, version, isOvertaken, takeTheirs, wasSaved } = useDraft<Draft>(
    row && { definition: row.set, version: row.version },
    NEW,
  );
  const set = (change: Partial<Draft>) => setDraft({ ...draft, ...change });
  const failed = save.error ?? remove.error;
  const parts = { draft, view, mayWrite, onChange: set };
  const submit = () => {
    const { id: _id, ...definition } = draft as CrossingSet;
    save.mutate(
      { id: row?.set.id ?? null, definition, ...(version === undefined ? {} : { version }) },
      {
        onSuccess: ({ id }) => {
          toast('Draft saved');
          wasSaved();
          onDone(id);
        },
      },
    );
  };
  return (
    <form
      aria-label={row ? `Edit ${row.set.name}` : 'New set'}
      className="flex flex-col gap-5"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      {isOvertaken && row && <Overtaken by={row.updatedBy} onTake={takeTheirs} />}
      {row && row.problems.length > 0 && (
        <Notice look="stop">
          <ul className="list-disc pl-5">
            {row.problems.map((problem) => (
              <li key={`${problem.code}${problem.value}`}>{crossingProblemSentence(problem)}</li>
            ))}
          </ul>
        </Notice>
      )}
      <TextField
        label="Name"
        required
        maxLength={120}
        className="max-w-md"
        readOnly={!mayWrite}
        value={draft.name}
        onChange={({ target }) => set({ name: target.value })}
      />
      <Scope {...parts} />
      <CircleTable {...parts} />
      <NewThings {...parts} />
      <AddressLists {...parts} />
      <AssistantRules {...parts} />
      {failed && <Notice look="stop">{errorSentence(failed)}</Notice>}
      {mayWrite && (
        <div className="sticky -bottom-4 flex gap-2 border-t border-rule bg-paper pt-2.5 pb-4">
          <Button look="main" type="submit">
            {save.isPending ? 'Saving …' : 'Save draft'}
          </Button>
          {row && (
            <AskFirst
              name="Remove set"
              effect={`This removes "${row.set.name}" from the drafts. What it refuses is allowed once you publish.`}
              does="Remove set"
              onDo={() => remove.mutate(row.set.id, { onSuccess: () => onDone(null) })}
            />
          )}
        </div>
      )}
    </form>
  );
}

/** What every part of the form is given. */
export interface PartProps {
  readonly draft: Draft;
  readonly view: CrossingsView;
  readonly mayWrite: boolean;
  readonly onChange: (change: Partial<Draft>) => void;
}

/** Which workspaces, and since when. */
function Scope({ draft, view, mayWrite, onChange }: PartProps) {
  const { workspaces, since } = draft;
  const stateOf = (id: string): 'about' | 'out' | 'unnamed' =>
    workspaces.without.includes(id) ? 'out' : workspaces.with.includes(id) ? 'about' : 'unnamed';
  const put = (id: string, state: string) =>
    onChange({
      workspaces: {
        with: [...workspaces.with.filter((each) => each !== id), ...(state === 'about' ? [id] : [])],
        without: [...workspaces.without.filter((each) => each !== id), ...(state === 'out' ? [id] : [])],
      },
    });
  return (
    <section aria-label="Where and since when does it apply?">
      <h2 className="mb-1 !text-[15px] !text-ink">Where and since when does it apply?</h2>
      <p className="mb-1 text-[12.5px] text-ink-2">
        {workspaces.with.length === 0
          ? 'It applies in every workspace except those left out.'
          : 'It applies only in the workspaces chosen here.'}
      </p>
      <div className="flex flex-wrap gap-x-6 gap-y-1">
        {view.workspaces.map(({ workspace }) => (
          <label key={workspace.id} className="flex items-center gap-2">
            {workspace.name} ({WORKSPACE_WORDS[workspace.kind]})
            <select
              className="field !w-auto !py-0.5"
              disabled={!mayWrite}
              value={stateOf(workspace.id)}
              onChange={({ target }) => put(workspace.id, target.value)}
            >
              <option value="unnamed">by default</option>
              <option value="about">applies</option>
              <option value="out">left out</option>
            </select>
          </label>
        ))}
      </div>
      <label className="mt-2 flex items-center gap-2">
        Applies to automations created or changed since
        <input
          type="date"
          className="field !w-auto !py-0.5"
          disabled={!mayWrite}
          value={since === null ? '' : new Date(since).toISOString().slice(0, 10)}
          onChange={({ target }) =>
            onChange({ since: target.value === '' ? null : Date.parse(target.value) })
          }
        />
        <span className="text-ink-2">
          {since === null ? 'No date: it applies to all.' : 'Older ones keep running and are listed.'}
        </span>
      </label>
    </section>
  );
}
