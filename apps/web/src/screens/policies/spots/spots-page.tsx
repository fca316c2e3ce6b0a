import type { SpotGroupView } from '@lantern/contracts';
import type { SpotGroup } from '@lantern/core/policy';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useNames, useRemovePart, useSaveSpotGroup, useSpotGroups } from '../../../data/policies';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { TextArea, TextField } from '../../../ui/field';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { spotWords } from '../../../wording/sentence';
import { STATE_WORDS } from '../../../wording/terms';
import { PartButtons } from '../part-buttons';
import { PolicyPlaces } from '../../../shared/policy-places';
import { SpotList } from './spot-list';

type Draft = Omit<SpotGroup, 'id'>;
const EMPTY: Draft = { name: '', why: '', spots: [] };

/** Applications, sites, devices and places under one name, for rules that mean all of them. */
export function SpotsPage() {
  const groups = useSpotGroups();
  const names = useNames();
  const [search, setSearch] = useSearchParams();
  const mayWrite = useMay('policies.write');
  const open = search.get('open');
  const view = groups.data?.find(({ spots }) => spots.id === open);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <PolicyPlaces />
      <div className="mb-3 flex items-center gap-3">
        <h1 className="flex-1">Applications and sites</h1>
        <Button
          look="main"
          refusal={mayWrite ? undefined : 'Your account may not edit rules'}
          onClick={() => setSearch({ open: 'new' })}
        >
          Create group
        </Button>
      </div>
      {groups.isPending && <Loading what="the groups" />}
      {groups.isError && <Notice look="stop">{errorSentence(groups.error)}</Notice>}
      {groups.data?.length === 0 && (
        <Empty title="No groups yet">
          Group applications, sites, devices or places, such as all assistants or all private mailboxes, so
          that rules can name them together.
        </Empty>
      )}
      <table className="w-full text-[13px]">
        <thead>
          <tr className="text-left text-ink-2">
            <th className="py-1 font-normal">group</th>
            <th className="font-normal">what it means</th>
            <th className="font-normal">used by</th>
          </tr>
        </thead>
        <tbody>
          {(groups.data ?? []).map(({ spots, state, usedBy }) => (
            <tr key={spots.id} className="border-t border-rule align-baseline">
              <td className="w-[38%] py-1.5 pr-3">
                <button
                  type="button"
                  className="part text-left"
                  onClick={() => setSearch({ open: spots.id })}
                >
                  {spots.name}
                </button>{' '}
                <span className="text-ink-2">{STATE_WORDS[state]}</span>
                <p className="text-ink-2">{spots.why}</p>
              </td>
              <td className="pr-3">
                {spots.spots.map((spot) => spotWords(spot, names)).join(', ') || 'nothing yet'}
              </td>
              <td>
                {usedBy.map(({ policyName, rule }) => `${policyName}, ${rule}`).join('; ') || 'no rule'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {(view ?? open === 'new') && (
        <Editor
          key={view?.spots.id ?? 'new'}
          view={view ?? null}
          readOnly={!mayWrite}
          onDone={() => setSearch({})}
        />
      )}
    </div>
  );
}

interface EditorProps {
  readonly view: SpotGroupView | null;
  readonly readOnly: boolean;
  readonly onDone: () => void;
}

function Editor({ view, readOnly, onDone }: EditorProps) {
  const { id: _id, ...start } = view?.spots ?? { id: null, ...EMPTY };
  const [draft, setDraft] = useState<Draft>(start);
  const save = useSaveSpotGroup();
  const remove = useRemovePart('spots');
  const submit = () =>
    save.mutate(
      { id: view?.spots.id ?? null, value: draft, version: view?.version ?? 1 },
      { onSuccess: () => (toast.success('The group is saved as a draft'), onDone()) },
    );
  return (
    <form
      aria-label="Group of applications and sites"
      className="mt-6 flex max-w-3xl flex-col gap-3 border-t border-rule-strong pt-4"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <TextField
        label="Name"
        required
        readOnly={readOnly}
        maxLength={120}
        value={draft.name}
        onChange={(event) => setDraft({ ...draft, name: event.target.value })}
      />
      <SpotList
        label="It means"
        spots={draft.spots}
        groups={[]}
        readOnly={readOnly}
        onChange={(spots) => setDraft({ ...draft, spots })}
      />
      <TextArea
        label="Why they belong together"
        rows={2}
        readOnly={readOnly}
        maxLength={4000}
        value={draft.why}
        onChange={(event) => setDraft({ ...draft, why: event.target.value })}
      />
      <PartButtons
        readOnly={readOnly}
        error={save.error ?? remove.error}
        onRemove={view && (() => remove.mutate(view.spots.id, { onSuccess: onDone }))}
        inUse={(view?.usedBy.length ?? 0) > 0}
        onDone={onDone}
      />
    </form>
  );
}
