import type { AutomaticView } from '@lantern/contracts';
import { type Automatic, DOES, type Label, REACHES } from '@lantern/core/labels';
import { FILE_KINDS } from '@lantern/core/movement';
import { type LabelId } from '@lantern/core/shared';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useLabels, useRemoveLabel, useSaveLabel } from '../../data/labels';
import { usePatternNames } from '../../data/patterns';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { SelectField, TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { REACH_WORDS } from '../../wording/labels';
import { FILE_KIND_WORDS, STATE_WORDS } from '../../wording/terms';
import { newAutomatic, toggled } from './edit';
import { automaticSentence } from './automatic-sentence';
import { LabelPlaces } from './label-places';
import { DraftFoot } from './parts/draft-foot';
import { ContentTerms, PlaceTerms } from './parts/automatic-terms';
import { ProblemList, problemsAt } from './parts/problem-list';

/** Rules by which machines label, and the way to see beforehand what they would do. */
export function AutomaticPage() {
  const labels = useLabels();
  const patterns = usePatternNames();
  const [search, setSearch] = useSearchParams();
  const mayWrite = useMay('labels.write');
  const rules = labels.data?.automatic ?? [];
  const all = labels.data?.labels.map(({ label }) => label) ?? [];
  const names = new Map([...patterns, ...all.map(({ id, name }) => [String(id), name] as const)]);
  // The first is open until another is chosen: half a page would stay empty.
  const open = search.get('open') ?? rules[0]?.automatic.id;
  const view = rules.find(({ automatic }) => automatic.id === open);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <LabelPlaces />
      <div className="mb-3 flex items-center gap-3">
        <h1 className="flex-1">Automatic labels</h1>
        <Link className="part" to="/labels/runs">
          Label stored files
        </Link>
        <Button
          look="main"
          refusal={
            mayWrite
              ? all.length === 0
                ? 'Create a label first'
                : undefined
              : 'Your account may not edit rules'
          }
          onClick={() => setSearch({ open: 'new' })}
        >
          Write a rule
        </Button>
      </div>
      {labels.isPending && <Loading what="the rules" />}
      {labels.isError && <Notice look="stop">{errorSentence(labels.error)}</Notice>}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] gap-8">
        <ol aria-label="Automatic rules">
          {labels.data && rules.length === 0 && (
            <Empty title="No automatic labels yet">
              Describe what an item contains and which label it gets.
            </Empty>
          )}
          {rules.map((each) => (
            <li
              key={each.automatic.id}
              className={`border-b border-rule py-2 ${each.automatic.id === open ? 'bg-press-soft px-2' : ''}`}
            >
              <button
                type="button"
                className="part"
                aria-current={each.automatic.id === open}
                onClick={() => setSearch({ open: each.automatic.id })}
              >
                {each.automatic.name}
              </button>{' '}
              <span className="text-[12.5px] text-ink-2">{STATE_WORDS[each.state]}</span>
              <p className="text-[13px]">{automaticSentence(each.automatic, names)}</p>
              <ProblemList problems={each.problems} />
            </li>
          ))}
        </ol>
        {(view ?? open === 'new') && labels.data ? (
          <Editor
            key={view?.automatic.id ?? 'new'}
            view={view ?? null}
            rules={rules.map(({ automatic }) => automatic)}
            labels={all}
            names={names}
            readOnly={!mayWrite}
            onDone={() => setSearch({})}
          />
        ) : (
          <p className="text-ink-2">
            If several rules apply to one item, the label with the highest rank wins. A published rule acts
            when a document is saved. To label files that are already stored, run it over places.
          </p>
        )}
      </div>
    </div>
  );
}

interface EditorProps {
  readonly view: AutomaticView | null;
  readonly rules: readonly Automatic[];
  readonly labels: readonly Label[];
  readonly names: ReadonlyMap<string, string>;
  readonly readOnly: boolean;
  readonly onDone: () => void;
}

function Editor({ view, rules, labels, names, readOnly, onDone }: EditorProps) {
  const [draft, setDraft] = useState<Omit<Automatic, 'id'>>(view?.automatic ?? newAutomatic(rules, labels));
  // The version that was opened: what somebody else saves meanwhile refuses this one.
  const [version] = useState(view?.version ?? 1);
  const save = useSaveLabel('automatic');
  const remove = useRemoveLabel('automatic');
  const change = (part: Partial<Automatic>) => setDraft({ ...draft, ...part });
  const problems = view?.problems ?? [];
  return (
    <form
      aria-label="Automatic rule"
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(
          { id: view?.automatic.id ?? null, value: draft, version, note: '' },
          { onSuccess: () => (toast.success('The rule is saved as a draft'), onDone()) },
        );
      }}
    >
      <p className="border-l-2 border-press bg-sheet px-3 py-2">{automaticSentence(draft, names)}</p>
      <fieldset disabled={readOnly} className="flex flex-col gap-3">
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Name"
            required
            maxLength={120}
            value={draft.name}
            onChange={(event) => change({ name: event.target.value })}
          />
          <SelectField
            label="Label"
            value={draft.label}
            options={labels
              .filter(({ retired }) => !retired)
              .map(({ id, name, rank }) => ({ value: String(id), label: `${name} (rank ${rank})` }))}
            onChange={(label) => change({ label: label as LabelId })}
          />
        </div>
        <ContentTerms draft={draft} names={names} onChange={change} />
        <ProblemList problems={problemsAt(problems, 'content')} />
        <div>
          <p className="mb-1 text-[12.5px] font-semibold text-ink-2">File kinds (none selected: all)</p>
          <div className="flex flex-wrap gap-3">
            {FILE_KINDS.map((kind) => (
              <label key={kind} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={draft.kinds.includes(kind)}
                  onChange={() => change({ kinds: toggled(draft.kinds, kind) })}
                />
                {FILE_KIND_WORDS[kind]}
              </label>
            ))}
          </div>
        </div>
        <PlaceTerms places={draft.places} onChange={(places) => change({ places })} />
        <div className="grid grid-cols-2 gap-3">
          <SelectField
            label="Shared with"
            value={draft.sharedWith}
            options={REACHES.map((reach) => ({ value: reach, label: REACH_WORDS[reach] }))}
            onChange={(sharedWith) => change({ sharedWith })}
          />
          <SelectField
            label="It then"
            value={draft.does}
            options={DOES.map((each) => ({
              value: each,
              label: each === 'apply' ? 'sets the label' : 'suggests it to the person',
            }))}
            onChange={(does) => change({ does })}
          />
          <TextField
            label="Maximum items labelled per run"
            type="number"
            min={1}
            placeholder="no limit"
            value={draft.atMost ?? ''}
            onChange={(event) =>
              change({ atMost: event.target.value === '' ? null : Number(event.target.value) })
            }
          />
          <label className="flex items-center gap-1.5 self-end pb-1.5">
            <input
              type="checkbox"
              checked={draft.lowersPeople}
              onChange={(event) => change({ lowersPeople: event.target.checked })}
            />
            May lower a label that a person chose
          </label>
        </div>
      </fieldset>
      <DraftFoot
        id={view?.automatic.id ?? null}
        error={save.error ?? remove.error}
        readOnly={readOnly}
        onRemove={(id) => remove.mutate(id, { onSuccess: onDone })}
        onLeave={onDone}
      />
    </form>
  );
}
