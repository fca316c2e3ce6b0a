import type { PlayerView } from '@lantern/contracts';
import type { AutomationView, BuilderRegister, JudgedWhileBuilding } from '@lantern/contracts/crossings';
import type { AnyAutomation, Assistant, Flow } from '@lantern/core/automations';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  useBuilderRegister,
  useJudged,
  useOwnAutomation,
  useOwnAutomations,
  useRemoveAutomation,
  useSaveAutomation,
} from '../../data/builder';
import { useDraft } from '../../shared/use-draft';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { Playing } from '../playing';
import { AssistantForm } from './assistant-form';
import { Ask, AssistantList } from './ask';
import { FlowGraph } from './flow-graph';
import { FlowRuns } from './flow-runs';
import { StepForm } from './step-form';

export const button = 'rounded border border-rule-strong bg-white px-2.5 py-1 disabled:opacity-60';

/** The simulated program in which people build flows and assistants. */
export function BuilderWindow() {
  return (
    <Playing name="automation builder" path="automations" outsideToo>
      {(player) => (player.outside ? <AssistantsOnly player={player} /> : <Builder player={player} />)}
    </Playing>
  );
}

/** People outside build nothing here; they ask assistants that are for anybody. */
function AssistantsOnly({ player }: { readonly player: PlayerView }) {
  const [search, setSearch] = useSearchParams();
  const asked = search.get('ask');
  return (
    <>
      <nav
        aria-label="Assistants"
        className="w-64 shrink-0 overflow-auto border-r border-rule bg-[#f2f7f5] p-3"
      >
        <AssistantList player={player} asked={asked} onAsk={(id) => setSearch({ ask: id })} />
      </nav>
      <div className="min-w-0 flex-1 overflow-auto">
        {asked === null ? (
          <p className="p-6 text-ink-2">Choose an assistant to ask.</p>
        ) : (
          <Ask key={asked} player={player} assistant={asked} />
        )}
      </div>
    </>
  );
}

function Builder({ player }: { readonly player: PlayerView }) {
  const [search, setSearch] = useSearchParams();
  const register = useBuilderRegister(player.id);
  const mine = useOwnAutomations(player.id);
  const open = search.get('open');
  const asked = search.get('ask');
  const isNew = open === 'flow' || open === 'assistant';
  const known = useOwnAutomation(player.id, open !== null && !isNew ? open : null);
  const workspace = register.data?.workspaces[0]?.id ?? '';
  if (register.isPending) return <Loading what="what can be built with" />;
  if (register.isError) return <Notice look="stop">{errorSentence(register.error)}</Notice>;
  return (
    <>
      <nav
        aria-label="Own automations"
        className="w-64 shrink-0 overflow-auto border-r border-rule bg-[#f2f7f5] p-3"
      >
        <span className="mb-3 flex gap-2">
          <button type="button" className={button} onClick={() => setSearch({ open: 'flow' })}>
            New flow
          </button>
          <button type="button" className={button} onClick={() => setSearch({ open: 'assistant' })}>
            New assistant
          </button>
        </span>
        {mine.data?.length === 0 && <p className="text-ink-2">You have built nothing yet.</p>}
        {mine.data?.map((each) => (
          <button
            key={each.id}
            type="button"
            aria-current={each.id === open ? 'page' : undefined}
            className={`block w-full rounded px-2.5 py-1.5 text-left ${each.id === open ? 'bg-[#d8e8e2]' : ''}`}
            onClick={() => setSearch({ open: each.id })}
          >
            <span className="block truncate">{each.name}</span>
            <span className={`block text-[12.5px] ${each.runs ? 'text-ink-2' : 'text-stop'}`}>
              {!each.runs ? 'may not run' : each.isOn ? 'runs' : 'switched off'}
            </span>
          </button>
        ))}
        <AssistantList player={player} asked={asked} onAsk={(id) => setSearch({ ask: id })} />
      </nav>
      <div className="min-w-0 flex-1 overflow-auto">
        {asked !== null && <Ask key={asked} player={player} assistant={asked} />}
        {open === null && asked === null && <p className="p-6 text-ink-2">Choose one, or build a new one.</p>}
        {known.isError && <Notice look="stop">{errorSentence(known.error)}</Notice>}
        {isNew && (
          <Editor
            key={open}
            player={player}
            register={register.data}
            empty={open === 'flow' ? newFlow(workspace) : newAssistant(workspace)}
            view={null}
            onSaved={(id) => setSearch(id ? { open: id } : {})}
          />
        )}
        {known.data && open === known.data.id && (
          <Editor
            key={known.data.id}
            player={player}
            register={register.data}
            empty={known.data.automation}
            view={known.data}
            onSaved={(id) => setSearch(id ? { open: id } : {})}
          />
        )}
      </div>
    </>
  );
}

const SHARED = { id: 'new', name: '', owner: '', madeAt: 0 };
const newFlow = (workspace: string): Flow => ({ kind: 'flow', ...SHARED, workspace, steps: [] });
const newAssistant = (workspace: string): Assistant => ({
  ...{ kind: 'assistant', ...SHARED, workspace, sources: [], steps: [] },
  ...{ audience: 'signed-in', published: [] },
});

interface EditorProps {
  readonly player: PlayerView;
  readonly register: BuilderRegister;
  /** What a new one starts as. */
  readonly empty: AnyAutomation;
  /** As it was saved; null for a new one. */
  readonly view: AutomationView | null;
  readonly onSaved: (id: string | null) => void;
}

function Editor({ player, register, empty, view, onSaved }: EditorProps) {
  const { draft, setDraft, version, isOvertaken, takeTheirs, wasSaved } = useDraft<AnyAutomation>(
    view && { definition: view.automation, version: view.version },
    empty,
  );
  const [chosen, setChosen] = useState<string | null>(null);
  const save = useSaveAutomation(player.id);
  const remove = useRemoveAutomation(player.id);
  const hasContent = draft.kind === 'assistant' || draft.steps.length > 0;
  const judged = useJudged(
    player.id,
    hasContent ? { ...draft, name: draft.name || 'Unnamed', owner: player.address } : null,
  );
  const step = draft.kind === 'flow' ? draft.steps.find(({ id }) => id === chosen) : undefined;
  const failed = save.error ?? remove.error;
  const keep = (isOn: boolean) =>
    save.mutate(
      {
        automation: { ...draft, owner: player.address },
        isOn,
        ...(version === undefined ? {} : { version }),
      },
      {
        onSuccess: (kept) => {
          wasSaved();
          toast(savedWords(isOn, kept.isOn));
          onSaved(kept.id);
        },
      },
    );
  return (
    <form
      aria-label={view ? `Edit ${view.name}` : `New ${draft.kind}`}
      className="flex h-full flex-col"
      onSubmit={(event) => {
        event.preventDefault();
        keep(view?.isOn ?? false);
      }}
    >
      <div className="flex flex-wrap items-end gap-3 border-b border-rule p-3">
        <label className="block text-[12.5px]">
          Name
          <input
            className="mt-0.5 block w-72 border border-rule-strong bg-white px-1.5 py-1"
            required
            maxLength={120}
            value={draft.name}
            onChange={({ target }) => setDraft({ ...draft, name: target.value })}
          />
        </label>
        <label className="block text-[12.5px]">
          Workspace
          <select
            className="mt-0.5 block border border-rule-strong bg-white px-1.5 py-1"
            value={draft.workspace}
            onChange={({ target }) => setDraft({ ...draft, workspace: target.value })}
          >
            {register.workspaces.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <button type="submit" className={button} disabled={!hasContent || save.isPending}>
          Save
        </button>
        <button
          type="button"
          className="rounded bg-[var(--teal)] px-3 py-1 text-white disabled:opacity-60"
          disabled={!hasContent || draft.name.trim() === '' || save.isPending}
          onClick={() => keep(true)}
        >
          {draft.kind === 'flow' ? 'Save and switch on' : 'Save and publish'}
        </button>
        {view?.isOn && (
          <button type="button" className={button} onClick={() => keep(false)}>
            Switch off
          </button>
        )}
        {view && (
          <button
            type="button"
            className={button}
            onClick={() => remove.mutate(view.id, { onSuccess: () => onSaved(null) })}
          >
            Delete
          </button>
        )}
      </div>
      {isOvertaken && <OvertakenHere onTakeTheirs={takeTheirs} />}
      {failed && <Notice look="stop">{errorSentence(failed)}</Notice>}
      <Told judged={judged.data} draft={draft} onChoose={setChosen} />
      {view && draft.kind === 'flow' && <FlowRuns player={player} view={view} />}
      {draft.kind === 'flow' ? (
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_270px]">
          <FlowGraph
            steps={draft.steps}
            register={register}
            judged={judged.data}
            chosen={chosen}
            onChoose={setChosen}
            onChange={(steps) => setDraft({ ...draft, steps })}
          />
          <StepForm
            key={chosen ?? 'new'}
            step={step ?? null}
            steps={draft.steps}
            register={register}
            onChange={(steps) => setDraft({ ...draft, steps })}
            onChoose={setChosen}
          />
        </div>
      ) : (
        <AssistantForm draft={draft} register={register} onChange={setDraft} />
      )}
    </form>
  );
}

function savedWords(wanted: boolean, runs: boolean): string {
  if (wanted && !runs) return 'Saved, but not switched on: it may not run as it is';
  return runs ? 'Saved, and it runs' : 'Saved';
}

function OvertakenHere({ onTakeTheirs }: { readonly onTakeTheirs: () => void }) {
  return (
    <Notice look="stop">
      <p>Someone saved this in the meantime. Your changes are still here, but cannot be saved over theirs.</p>
      <button type="button" className={button} onClick={onTakeTheirs}>
        Discard my changes
      </button>
    </Notice>
  );
}

/** What is forbidden as it stands, said while choosing, with what would be allowed instead. */
function Told({
  judged,
  draft,
  onChoose,
}: {
  readonly judged: JudgedWhileBuilding | undefined;
  readonly draft: AnyAutomation;
  readonly onChoose: (id: string) => void;
}) {
  if (!judged) return null;
  const nameOf = (id: string): string => draft.steps.find((step) => step.id === id)?.name || id;
  return (
    <div role="status" className="px-3 pt-2">
      {judged.told.length === 0 && (draft.kind === 'assistant' || draft.steps.length > 0) && (
        <p className="text-[var(--teal)]">No rule forbids this.</p>
      )}
      {judged.told.map((each, index) => (
        <p key={index} className="mb-1 border-l-[5px] border-stop bg-stop-soft px-3 py-1">
          {each.sentence} {each.instead}
          {each.set !== '' && <span className="text-ink-2"> ({each.set})</span>}{' '}
          {each.steps.map((id) => (
            <button key={id} type="button" className="mr-2 min-h-6 underline" onClick={() => onChoose(id)}>
              {nameOf(id)}
            </button>
          ))}
        </p>
      ))}
      {judged.ungoverned.map((each) => (
        <p key={each} className="text-ink-2">
          {each}
        </p>
      ))}
    </div>
  );
}
