import type { LabelView } from '@lantern/contracts';
import { isOpen, type Label } from '@lantern/core/labels';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { useLabels, useRemoveLabel, useSaveLabel } from '../../data/labels';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { LabelPlaces } from './label-places';
import { HandlingEditor } from './parts/handling-editor';
import { Carriers, Choosing, ForeignNames, Head, Question } from './parts/label-fields';
import { LabelHistory } from './parts/label-history';
import { MarkingEditor } from './parts/marking-editor';
import { PlaceTermsEditor } from './parts/place-terms-editor';
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
          This label no longer exists.{' '}
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
  // What the draft began from: a save over somebody else's is refused by its version.
  const [base, setBase] = useState(view);
  const [draft, setDraft] = useState<Label>(view.label);
  const [note, setNote] = useState('');
  const [now] = useState(() => Date.now());
  const save = useSaveLabel('labels');
  const remove = useRemoveLabel('labels');
  const navigate = useNavigate();
  const mayWrite = useMay('labels.write');
  const dirty = JSON.stringify(draft) !== JSON.stringify(base.label);
  const begin = (from: LabelView) => {
    setBase(from);
    setDraft(from.label);
  };
  // What somebody else saved comes in where nothing of ours stands against it.
  if (!dirty && view.version > base.version) begin(view);
  const change = (part: Partial<Label>) => setDraft({ ...draft, ...part });
  const submit = (value: Label = draft) =>
    save.mutate(
      { id: view.label.id, value, version: base.version, note },
      {
        onSuccess: () => {
          toast.success('The label is saved as a draft');
          setNote('');
          begin({ ...base, label: value, version: base.version + 1 });
        },
      },
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
        <Head
          draft={draft}
          problems={problems}
          mayWrite={mayWrite}
          change={change}
          all={all}
          state={view.state}
        />
        <Choosing draft={draft} problems={problems} mayWrite={mayWrite} change={change} />
        <Question
          title="What may people do with it?"
          about={
            isOpen(draft.handling)
              ? 'Nothing is restricted. The label only states how sensitive an item is.'
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
        <Question title="What may happen in a place that carries it?">
          <ProblemList problems={problemsAt(problems, 'place')} />
          <PlaceTermsEditor
            terms={draft.place ?? null}
            readOnly={!mayWrite}
            onChange={(place) => change({ place })}
          />
        </Question>
        <Question title="What is printed on items?">
          <ProblemList problems={problems.filter(({ code }) => code === 'no-marking')} />
          <MarkingEditor
            markings={draft.markings}
            problems={problems}
            readOnly={!mayWrite}
            onChange={(markings) => change({ markings })}
          />
        </Question>
        <Carriers draft={draft} problems={problems} mayWrite={mayWrite} change={change} />
        <ForeignNames draft={draft} problems={problems} mayWrite={mayWrite} change={change} />
        <Question title="Where is it used?">
          <Usage view={view} />
        </Question>
        {mayWrite && (
          <SaveBar
            view={view}
            draft={draft}
            dirty={dirty}
            saving={save.isPending}
            note={note}
            onNote={setNote}
            onUndo={() => begin(view)}
            onRetire={() => {
              const retired = !draft.retired;
              change({ retired });
              submit({ ...draft, retired });
            }}
            onRemove={() => remove.mutate(view.label.id, { onSuccess: () => void navigate('/labels') })}
          />
        )}
        {dirty && view.version > base.version && (
          <Notice look="stop">
            {view.updatedBy} saved this label in the meantime, so your version was not saved. It is still
            here. Undo your changes to load theirs.
          </Notice>
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

interface BarProps {
  readonly view: LabelView;
  readonly draft: Label;
  readonly dirty: boolean;
  readonly saving: boolean;
  readonly note: string;
  readonly onNote: (note: string) => void;
  readonly onUndo: () => void;
  readonly onRetire: () => void;
  readonly onRemove: () => void;
}

/** What is done with the page as a whole, always in view. */
function SaveBar({ view, draft, dirty, saving, note, onNote, onUndo, onRetire, onRemove }: BarProps) {
  return (
    <div className="sticky -bottom-4 flex items-end gap-2 border-t border-rule bg-paper pt-2.5 pb-6">
      <TextField
        label="What changed and why (for the history)"
        className="flex-1"
        maxLength={4000}
        value={note}
        onChange={(event) => onNote(event.target.value)}
      />
      <Button look="main" type="submit" refusal={dirty ? undefined : 'Nothing has changed'}>
        {saving ? 'Saving …' : 'Save draft'}
      </Button>
      {dirty && <Button onClick={onUndo}>Undo my changes</Button>}
      <Button look="stop" onClick={onRetire}>
        {draft.retired ? 'Bring back' : 'Retire'}
      </Button>
      {view.state === 'new' && (
        <Button look="stop" onClick={onRemove}>
          Remove
        </Button>
      )}
    </div>
  );
}

function Usage({ view }: { readonly view: LabelView }) {
  return (
    <ul className="list-disc pl-5">
      <li>
        {view.offers.length === 0 ? 'Not offered to anyone.' : 'Offered by '}
        {view.offers.map(({ id, name }) => (
          <Link key={id} className="part mr-2 inline-block min-h-6" to={`/labels/offers?open=${id}`}>
            {name}
          </Link>
        ))}
      </li>
      <li>
        {view.automatic.length === 0 ? 'No rule sets it.' : 'Set by '}
        {view.automatic.map(({ id, name }) => (
          <Link key={id} className="part mr-2 inline-block min-h-6" to={`/labels/automatic?open=${id}`}>
            {name}
          </Link>
        ))}
      </li>
      <li>
        <Link className="part" to={`/labels/changes?label=${view.label.id}`}>
          {view.items} {view.items === 1 ? 'document carries' : 'documents carry'} this label. Label history
        </Link>
      </li>
    </ul>
  );
}
