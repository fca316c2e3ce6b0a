import type { TextView } from '@lantern/contracts';
import { type AnswerText, TEXT_FIELDS } from '@lantern/core/policy';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useRemovePart, useSaveText, useTexts } from '../../../data/policies';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { TextArea, TextField } from '../../../ui/field';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { STATE_WORDS } from '../../../wording/terms';
import { PolicyPlaces } from '../../../shared/policy-places';
import { Preview } from './preview';

type Draft = Omit<AnswerText, 'id'>;
const EMPTY: Draft = { name: '', words: [{ language: 'en', text: '' }], guidance: '', contact: '' };

/** Every text that people read, where it is used, and one of them open beside the list. */
export function TextsPage() {
  const texts = useTexts();
  const [search, setSearch] = useSearchParams();
  const mayWrite = useMay('policies.write');
  // The first is open until another is chosen: half a page would stay empty.
  const open = search.get('open') ?? texts.data?.[0]?.text.id;
  const view = texts.data?.find(({ text }) => text.id === open);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <PolicyPlaces />
      <div className="mb-3 flex items-center gap-3">
        <h1 className="flex-1">Messages</h1>
        <Button
          look="main"
          refusal={mayWrite ? undefined : 'Your account may not edit messages'}
          onClick={() => setSearch({ open: 'new' })}
        >
          Create message
        </Button>
      </div>
      {texts.isPending && <Loading what="the messages" />}
      {texts.isError && <Notice look="stop">{errorSentence(texts.error)}</Notice>}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.3fr)] gap-8">
        <ul aria-label="Texts">
          {texts.data?.length === 0 && (
            <Empty title="No messages yet">
              People whose data is stopped should read why, and what to do instead.
            </Empty>
          )}
          {(texts.data ?? []).map((each) => (
            <TextRow
              key={each.text.id}
              view={each}
              isOpen={each.text.id === open}
              onOpen={() => setSearch({ open: each.text.id })}
            />
          ))}
        </ul>
        {(view ?? open === 'new') ? (
          <Editor
            key={view ? `${view.text.id}` : 'new'}
            view={view ?? null}
            readOnly={!mayWrite}
            onDone={() => setSearch({})}
          />
        ) : (
          <p className="text-ink-2">Select a message to read or change it.</p>
        )}
      </div>
    </div>
  );
}

interface RowProps {
  readonly view: TextView;
  readonly isOpen: boolean;
  readonly onOpen: () => void;
}

function TextRow({ view: { text, state, usedBy }, isOpen, onOpen }: RowProps) {
  return (
    <li className={`border-b border-rule py-2 ${isOpen ? 'bg-press-soft px-2' : ''}`}>
      <button type="button" className="part text-left" onClick={onOpen} aria-current={isOpen}>
        {text.name}
      </button>{' '}
      <span className="text-[12.5px] text-ink-2">{STATE_WORDS[state]}</span>
      <p className="line-clamp-2 text-[13px] text-ink-2">{text.words[0]?.text}</p>
      <p className="text-[12.5px]">
        {usedBy.length === 0 && 'No rule uses it.'}
        {usedBy.map(({ policy, policyName, rule }) => (
          <Link
            key={`${policy}${rule}`}
            className="part mr-2 inline-block min-h-6"
            to={`/policies/${policy}`}
          >
            {policyName}, rule {rule}
          </Link>
        ))}
      </p>
    </li>
  );
}

interface EditorProps {
  readonly view: TextView | null;
  readonly readOnly: boolean;
  readonly onDone: () => void;
}

function Editor({ view, readOnly, onDone }: EditorProps) {
  const { id: _id, ...start } = view?.text ?? { id: null, ...EMPTY };
  const [draft, setDraft] = useState<Draft>(start);
  const save = useSaveText();
  const remove = useRemovePart('texts');
  const words = (index: number, change: Partial<Draft['words'][number]>) =>
    setDraft({
      ...draft,
      words: draft.words.map((each, at) => (at === index ? { ...each, ...change } : each)),
    });
  const submit = () =>
    save.mutate(
      { id: view?.text.id ?? null, value: draft, version: view?.version ?? 1 },
      { onSuccess: () => (toast.success('The message is saved as a draft'), onDone()) },
    );
  return (
    <form
      aria-label="A text"
      className="flex flex-col gap-3"
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
      {draft.words.map((each, index) => (
        <div key={index} className="flex items-start gap-2">
          <TextField
            label="Language"
            className="w-20"
            readOnly={readOnly}
            maxLength={10}
            value={each.language}
            onChange={(event) => words(index, { language: event.target.value.trim() })}
          />
          <TextArea
            className="flex-1"
            label={`Message${index === 0 ? '' : ` in ${each.language}`}`}
            rows={4}
            readOnly={readOnly}
            maxLength={4000}
            value={each.text}
            onChange={(event) => words(index, { text: event.target.value })}
          />
        </div>
      ))}
      <p className="text-[12.5px] text-ink-2">
        Filled in when the message is shown: {TEXT_FIELDS.map((field) => `{${field}}`).join(' ')}. Values are
        masked.
      </p>
      {(view?.unknownFields.length ?? 0) > 0 && (
        <Notice look="stop">
          {view?.unknownFields.map((field) => `{${field}}`).join(' ')} is not a known field and would be shown
          as it is.
        </Notice>
      )}
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Where to read more"
          readOnly={readOnly}
          value={draft.guidance}
          onChange={(event) => setDraft({ ...draft, guidance: event.target.value })}
        />
        <TextField
          label="Whom to ask"
          readOnly={readOnly}
          value={draft.contact}
          onChange={(event) => setDraft({ ...draft, contact: event.target.value })}
        />
      </div>
      <Preview draft={draft} />
      {(save.isError || remove.isError) && (
        <Notice look="stop">{errorSentence(save.error ?? remove.error)}</Notice>
      )}
      {!readOnly && (
        <div className="flex gap-2">
          <Button look="main" type="submit">
            Save draft
          </Button>
          <Button onClick={() => setDraft({ ...draft, words: [...draft.words, { language: '', text: '' }] })}>
            Add a language
          </Button>
          {view && (
            <Button
              look="stop"
              refusal={view.usedBy.length > 0 ? 'Rules still use it' : undefined}
              onClick={() => remove.mutate(view.text.id, { onSuccess: onDone })}
            >
              Remove
            </Button>
          )}
        </div>
      )}
    </form>
  );
}
