import type { LabelView } from '@lantern/contracts';
import { CARRIERS, isOpen, type Label } from '@lantern/core';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { useLabels, useRemoveLabel, useSaveLabel } from '../../data/labels';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextArea, TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { CARRIER_WORDS } from '../../wording/labels';
import { STATE_WORDS } from '../../wording/terms';
import { replaced, toggled, without } from './edit';
import { LabelPlaces } from './label-places';
import { Flag } from './parts/flag';
import { HandlingEditor } from './parts/handling-editor';
import { LabelHistory } from './parts/label-history';
import { MarkingEditor } from './parts/marking-editor';
import { LabelPreview } from './parts/preview';
import { ProblemList, problemsAt } from './parts/problem-list';

/** One label, read and edited from top to bottom by the questions people have about it. */
export function LabelPage() {
  const { id = '' } = useParams();
  const labels = useLabels();
  const view = labels.data?.labels.find(({ label }) => label.id === id);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <LabelPlaces />
      {labels.isPending && <Loading what="the label" />}
      {labels.isError && <Notice look="stop">{errorSentence(labels.error)}</Notice>}
      {labels.data && !view && (
        <Notice look="stop">
          There is no such label any more.{' '}
          <Link className="part" to="/labels">
            All labels
          </Link>
        </Notice>
      )}
      {view && <Editor key={view.label.id} view={view} all={labels.data?.labels ?? []} />}
    </div>
  );
}

function Editor({ view, all }: { readonly view: LabelView; readonly all: readonly LabelView[] }) {
  const [draft, setDraft] = useState<Label>(view.label);
  const [version, setVersion] = useState(view.version);
  const [note, setNote] = useState('');
  const [now] = useState(() => Date.now());
  const save = useSaveLabel('labels');
  const remove = useRemoveLabel('labels');
  const navigate = useNavigate();
  const mayWrite = useMay('labels.write');
  const dirty = JSON.stringify(draft) !== JSON.stringify(view.label);
  // Somebody else's save, or our own, comes in where nothing of ours stands against it.
  if (!dirty && version !== view.version) setVersion(view.version);
  if (version !== view.version && JSON.stringify(draft) !== JSON.stringify(view.label) && save.isSuccess)
    setVersion(view.version);
  const change = (part: Partial<Label>) => setDraft({ ...draft, ...part });
  const submit = (value: Label = draft) =>
    save.mutate(
      { id: view.label.id, value, version: view.version, note },
      { onSuccess: () => (toast.success('The label is saved as a draft'), setNote('')) },
    );
  const { problems } = view;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_252px] gap-8">
      <form
        aria-label="A label"
        className="flex max-w-3xl flex-col gap-5"
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <div>
          <div className="flex items-baseline gap-3">
            <h1 className="flex-1">
              <Flag colour={draft.colour} name={draft.name || 'A label without a name'} />
            </h1>
            <span className="text-[12.5px] text-ink-2">
              {draft.retired ? 'retired, ' : ''}
              {STATE_WORDS[view.state]}
            </span>
          </div>
          <ProblemList
            problems={problems.filter(({ path }) =>
              ['name', 'rank', 'colour', 'foreign'].includes(String(path[0])),
            )}
          />
          <div className="mt-2 grid grid-cols-[minmax(0,1.4fr)_90px_minmax(0,1fr)_86px] gap-3">
            <TextField
              label="Name"
              required
              maxLength={120}
              readOnly={!mayWrite}
              value={draft.name}
              onChange={(event) => change({ name: event.target.value })}
            />
            <TextField
              label="Rank"
              type="number"
              min={1}
              max={1000}
              readOnly={!mayWrite}
              value={draft.rank}
              onChange={(event) => change({ rank: Number(event.target.value) })}
            />
            <TextField
              label="Family, for display only"
              maxLength={120}
              readOnly={!mayWrite}
              value={draft.family}
              onChange={(event) => change({ family: event.target.value })}
            />
            <TextField
              label="Flag"
              type="color"
              disabled={!mayWrite}
              value={draft.colour}
              onChange={(event) => change({ colour: event.target.value })}
            />
          </div>
          <Neighbours draft={draft} all={all} />
        </div>
        <Question title="When do I choose it?">
          <ProblemList problems={problemsAt(problems, 'choosing')} />
          {draft.choosing.map((words, index) => (
            <div
              key={index}
              className="mb-2 grid grid-cols-[64px_minmax(0,1fr)_minmax(0,1fr)_auto] items-start gap-2"
            >
              <TextField
                label="Language"
                maxLength={10}
                readOnly={!mayWrite}
                value={words.language}
                onChange={(event) =>
                  change({ choosing: replaced(draft.choosing, index, { language: event.target.value }) })
                }
              />
              <TextArea
                label="Choose it when"
                rows={3}
                readOnly={!mayWrite}
                value={words.when}
                onChange={(event) =>
                  change({ choosing: replaced(draft.choosing, index, { when: event.target.value }) })
                }
              />
              <TextArea
                label="Not when, and what then"
                rows={3}
                readOnly={!mayWrite}
                value={words.not}
                onChange={(event) =>
                  change({ choosing: replaced(draft.choosing, index, { not: event.target.value }) })
                }
              />
              {mayWrite && (
                <Button
                  look="quiet"
                  className="mt-5"
                  aria-label={`Take language ${words.language} out`}
                  onClick={() => change({ choosing: without(draft.choosing, index) })}
                >
                  ×
                </Button>
              )}
            </div>
          ))}
          {mayWrite && (
            <Button
              onClick={() => change({ choosing: [...draft.choosing, { language: '', when: '', not: '' }] })}
            >
              Add a language
            </Button>
          )}
        </Question>
        <Question
          title="What may a holder do?"
          about={
            isOpen(draft.handling)
              ? 'Everything is open: the label only says how sensitive something is.'
              : undefined
          }
        >
          <ProblemList problems={problemsAt(problems, 'handling')} />
          <HandlingEditor
            handling={draft.handling}
            readOnly={!mayWrite}
            onChange={(handling) => change({ handling })}
          />
        </Question>
        <Question title="What does it print?">
          <ProblemList problems={problems.filter(({ code }) => code === 'no-marking')} />
          <MarkingEditor
            markings={draft.markings}
            problems={problems}
            readOnly={!mayWrite}
            onChange={(markings) => change({ markings })}
          />
        </Question>
        <Question title="Where may it stand?">
          <ProblemList problems={problemsAt(problems, 'carriers')} />
          <div className="flex flex-wrap gap-4">
            {CARRIERS.map((carrier) => (
              <label key={carrier} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  disabled={!mayWrite}
                  checked={draft.carriers.includes(carrier)}
                  onChange={() => change({ carriers: toggled(draft.carriers, carrier) })}
                />
                {CARRIER_WORDS[carrier]}
              </label>
            ))}
          </div>
        </Question>
        <Question
          title="What do files made elsewhere call it?"
          about="A property or header of another maker that means this label."
        >
          {draft.foreign.map((name, index) => (
            <div
              key={index}
              className="mb-1 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto] items-end gap-2"
            >
              <TextField
                label="Field"
                readOnly={!mayWrite}
                value={name.field}
                onChange={(event) =>
                  change({ foreign: replaced(draft.foreign, index, { field: event.target.value }) })
                }
              />
              <TextField
                label="Value"
                readOnly={!mayWrite}
                value={name.value}
                onChange={(event) =>
                  change({ foreign: replaced(draft.foreign, index, { value: event.target.value }) })
                }
              />
              {mayWrite && (
                <Button
                  look="quiet"
                  aria-label={`Take ${name.value} out`}
                  onClick={() => change({ foreign: without(draft.foreign, index) })}
                >
                  ×
                </Button>
              )}
            </div>
          ))}
          {mayWrite && (
            <Button onClick={() => change({ foreign: [...draft.foreign, { field: '', value: '' }] })}>
              Map a name
            </Button>
          )}
        </Question>
        <Question title="Where is it used?">
          <Usage view={view} />
        </Question>
        {mayWrite && (
          <div className="sticky -bottom-4 flex items-end gap-2 border-t border-rule bg-paper pt-2.5 pb-6">
            <TextField
              label="What changed and why, for its history"
              className="flex-1"
              maxLength={4000}
              value={note}
              onChange={(event) => setNote(event.target.value)}
            />
            <Button look="main" type="submit" refusal={dirty ? undefined : 'Nothing has changed'}>
              {save.isPending ? 'Saving …' : 'Save the draft'}
            </Button>
            {dirty && <Button onClick={() => setDraft(view.label)}>Undo what I changed</Button>}
            <Button
              look="stop"
              onClick={() => {
                const retired = !draft.retired;
                change({ retired });
                submit({ ...draft, retired });
              }}
            >
              {draft.retired ? 'Bring back' : 'Retire'}
            </Button>
            {view.state === 'new' && (
              <Button
                look="stop"
                onClick={() => remove.mutate(view.label.id, { onSuccess: () => void navigate('/labels') })}
              >
                Remove
              </Button>
            )}
          </div>
        )}
        {(save.isError || remove.isError) && (
          <Notice look="stop">{errorSentence(save.error ?? remove.error)}</Notice>
        )}
        <LabelHistory id={view.label.id} />
      </form>
      <LabelPreview label={draft} at={now} />
    </div>
  );
}

function Question({
  title,
  about,
  children,
}: {
  readonly title: string;
  readonly about?: string | undefined;
  readonly children: React.ReactNode;
}) {
  return (
    <section aria-label={title}>
      <h2 className="mb-1.5 !text-[15px] !text-ink">{title}</h2>
      {about && <p className="mb-1 text-[12.5px] text-ink-2">{about}</p>}
      {children}
    </section>
  );
}

/** Which labels stand above and below: rank is a place on one scale, not an order of a list. */
function Neighbours({ draft, all }: { readonly draft: Label; readonly all: readonly LabelView[] }) {
  const others = all.map(({ label }) => label).filter(({ id }) => id !== draft.id);
  const above = others
    .filter(({ rank }) => rank > draft.rank)
    .sort((left, right) => left.rank - right.rank)[0];
  const below = others
    .filter(({ rank }) => rank < draft.rank)
    .sort((left, right) => right.rank - left.rank)[0];
  return (
    <p className="mt-1 text-[12.5px] text-ink-2">
      {below ? `More sensitive than ${below.name} (${below.rank})` : 'The least sensitive of all'}
      {above ? `, less than ${above.name} (${above.rank}).` : ', and the most sensitive of all.'}
    </p>
  );
}

function Usage({ view }: { readonly view: LabelView }) {
  return (
    <ul className="list-disc pl-5">
      <li>
        {view.offers.length === 0 ? 'Nobody is offered it.' : 'Offered by '}
        {view.offers.map(({ id, name }) => (
          <Link key={id} className="part mr-2" to={`/labels/offers?open=${id}`}>
            {name}
          </Link>
        ))}
      </li>
      <li>
        {view.automatic.length === 0 ? 'No machine sets it.' : 'Set by '}
        {view.automatic.map(({ id, name }) => (
          <Link key={id} className="part mr-2" to={`/labels/automatic?open=${id}`}>
            {name}
          </Link>
        ))}
      </li>
      <li>
        <Link className="part" to={`/labels/changes?label=${view.label.id}`}>
          {view.items} {view.items === 1 ? 'document carries' : 'documents carry'} it; its changes on items
        </Link>
      </li>
    </ul>
  );
}
