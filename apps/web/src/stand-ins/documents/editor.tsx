import type { ChooserView, DocumentDetail, PersonView } from '@lantern/contracts';
import { domainOf } from '@lantern/core/directory';
import { type Effect } from '@lantern/core/labels';
import { type ClipboardEvent, useState } from 'react';
import { useChooser } from '../../data/labels-at-work';
import { useAttempt, useSaveDocument } from '../../data/documents-desk';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { EFFECT_WORDS } from '../../wording/effects';
import { effectRefusal } from './label-decisions';
import { startingLabel } from '../label-choices';
import { LabelPart } from './label-part';
import { Leaves } from './leaves';
import { useSuggestion } from '../use-suggestion';
import { Acts, Past, Waiting } from './acts';
import { ShareStates, SharedWith } from './sharing';

interface Props {
  readonly person: PersonView;
  /** Null for a new one. */
  readonly document: DocumentDetail | null;
  readonly onSaved: (id: string) => void;
}

export function Editor(props: Props) {
  const chooser = useChooser(props.person.id, 'document');
  if (chooser.isPending) return <Loading what="the labels" />;
  if (chooser.isError) return <Notice look="stop">{errorSentence(chooser.error)}</Notice>;
  return <Sheet {...props} chooser={chooser.data} />;
}

/** A page to write on, its label beside it, and what this person may do with it. */
function Sheet({ person, document, onSaved, chooser }: Props & { readonly chooser: ChooserView }) {
  const [name, setName] = useState(document?.name ?? 'New document.docx');
  const [text, setText] = useState(document?.paragraphs.join('\n') ?? '');
  const [label, setLabel] = useState<string | null>(
    document ? (document.label?.id ?? null) : startingLabel(chooser),
  );
  const [version, setVersion] = useState(document?.version ?? null);
  const [reason, setReason] = useState('');
  const [named, setNamed] = useState<DocumentDetail['named']>(document?.named ?? {});
  const [shared, setShared] = useState((document?.sharedWith ?? []).join(', '));
  const suggestion = useSuggestion(person.id, 'document', {
    text,
    label,
    sharedOutside: isOutside(shared, person),
  });
  const save = useSaveDocument(person.id);
  const attempt = useAttempt(person.id);
  const may = (effect: Effect) => effectRefusal(document, effect);
  const readOnly = may('change') !== null;
  const choice = chooser.labels.find(({ id }) => id === label);
  const submit = () =>
    save.mutate(
      {
        id: document?.id ?? null,
        name,
        paragraphs: text.split('\n'),
        label,
        reason,
        named,
        sharedWith: shared.split(/[,;\s]+/).filter((each) => each !== ''),
        version,
      },
      {
        onSuccess: (saved) => {
          setReason('');
          setVersion(saved.version);
          // A machine may have set another one as it was saved.
          setLabel(saved.label?.id ?? null);
          onSaved(saved.id);
        },
      },
    );
  const guard = (effect: 'take-out') => (event: ClipboardEvent) => {
    if (!document || may(effect) === null) return;
    event.preventDefault();
    attempt.mutate({ id: document.id, effect });
  };
  if (document && may('read') !== null) return <Closed document={document} why={may('read') ?? ''} />;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_300px] gap-5 p-5">
      <section aria-label="The page">
        <input
          aria-label="Name of the document"
          className="field mb-2 text-[15px] font-semibold"
          readOnly={readOnly}
          maxLength={200}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Marks document={document} place="top" />
        <textarea
          aria-label="Text"
          className="field min-h-[420px] w-full resize-y leading-relaxed"
          readOnly={readOnly}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onCopy={guard('take-out')}
          onCut={guard('take-out')}
        />
        <Marks document={document} place="foot" />
        {readOnly && (
          <p className="mt-1 text-[12.5px] text-ink-2">
            You may read this but not change it: {may('change')}.
          </p>
        )}
      </section>
      <aside className="flex flex-col gap-3">
        <LabelPart
          document={document}
          chooser={chooser}
          label={label}
          setLabel={setLabel}
          readOnly={readOnly}
          suggestion={suggestion}
          reason={reason}
          setReason={setReason}
        />
        {choice && choice.namesFor.length > 0 && !readOnly && (
          <NamedPeople effects={choice.namesFor} named={named} onChange={setNamed} />
        )}
        <SharedWith shared={shared} readOnly={readOnly} onChange={setShared} />
        {document && <ShareStates person={person} document={document} />}
        {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
        {attempt.isError && <Notice look="stop">{errorSentence(attempt.error)}</Notice>}
        {!readOnly && (
          <button type="button" className="rounded bg-[var(--teal)] px-3 py-1.5 text-white" onClick={submit}>
            {save.isPending ? 'Saving …' : 'Save'}
          </button>
        )}
        {document && (
          <Waiting
            person={person}
            document={document}
            onDecided={(decided) => {
              setVersion(decided.version);
              setLabel(decided.label?.id ?? null);
            }}
          />
        )}
        {document && (
          <>
            <Acts person={person} document={document} attempt={attempt} onDone={onSaved} />
            <Leaves document={document} />
            <Past document={document} />
          </>
        )}
      </aside>
    </div>
  );
}

/** Whether one of the addresses is not of the person's own house. */
function isOutside(shared: string, { address }: Pick<PersonView, 'address'>): boolean {
  const house = domainOf(address);
  return shared.split(/[,;\s]+/).some((each) => each.includes('@') && domainOf(each.toLowerCase()) !== house);
}

function Marks({ document, place }: { readonly document: DocumentDetail | null; readonly place: string }) {
  const marks = (document?.marks ?? []).filter((mark) => mark.place === place);
  if (marks.length === 0) return null;
  return (
    <div
      className="my-1 text-center"
      aria-label={place === 'top' ? 'Printed at the top' : 'Printed at the foot'}
    >
      {marks.map((mark, index) => (
        <p key={index} style={{ color: mark.colour }} className="text-[12.5px]">
          {mark.line}
        </p>
      ))}
    </div>
  );
}

/** A document that this person may not open: why, and what they may do. */
function Closed({ document, why }: { readonly document: DocumentDetail; readonly why: string }) {
  return (
    <div className="p-6">
      <h1>{document.name}</h1>
      <Notice look="stop">You may not open this: {why}.</Notice>
      <Leaves document={document} />
    </div>
  );
}

function NamedPeople({
  effects,
  named,
  onChange,
}: {
  readonly effects: readonly Effect[];
  readonly named: DocumentDetail['named'];
  readonly onChange: (named: DocumentDetail['named']) => void;
}) {
  return (
    <fieldset className="border-l-2 border-rule-strong pl-3">
      <legend className="text-[12.5px] font-semibold text-ink-2">You choose the people</legend>
      {effects.map((effect) => (
        <label key={effect} className="mb-1 block text-[12.5px]">
          Who may {EFFECT_WORDS[effect]}
          <input
            className="field w-full"
            placeholder="Addresses, separated by commas"
            value={(named[effect] ?? []).join(', ')}
            onChange={(event) => onChange({ ...named, [effect]: event.target.value.split(/[,;]\s*/) })}
          />
        </label>
      ))}
    </fieldset>
  );
}
