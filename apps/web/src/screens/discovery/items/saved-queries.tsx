import type { ItemOrder, ItemQueryView } from '@lantern/contracts/discovery';
import type { ItemGroup } from '@lantern/core/discovery';
import { type FormEvent, useState } from 'react';
import { useItemQueries, useRemoveItemQuery, useSaveItemQuery } from '../../../data/discovery-follow-up';
import { Button } from '../../../ui/button';
import { TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { EditorPopover } from '../../../ui/popover';
import { errorSentence } from '../../../wording/errors';

/** What is asked now. */
export interface Question {
  readonly filter: string;
  readonly order: ItemOrder;
  readonly by: readonly ItemGroup[];
}

/** Questions under a name: opened, saved, removed. */
export function SavedQueries({
  question,
  onOpen,
}: {
  readonly question: Question;
  readonly onOpen: (question: Question) => void;
}) {
  const queries = useItemQueries();
  const remove = useRemoveItemQuery();
  return (
    <EditorPopover wide label="Saved queries" trigger={<Button>Saved queries</Button>}>
      {queries.error && <Notice look="stop">{errorSentence(queries.error)}</Notice>}
      {queries.data?.length === 0 && <p className="text-[12.5px]">No query is saved yet.</p>}
      <ul className="max-h-64 overflow-auto">
        {queries.data?.map((query) => (
          <li key={query.id} className="flex items-baseline gap-3 border-b border-dotted border-rule py-1">
            <button
              type="button"
              className="part min-w-0 flex-1 text-left break-words"
              onClick={() => onOpen(query)}
            >
              {query.name}
            </button>
            <span className="text-[12px] text-ink-2">{whose(query)}</span>
            {query.isOwn && (
              <button
                type="button"
                className="part text-[12px]"
                aria-label={`Remove ${query.name}`}
                onClick={() => remove.mutate(query.id)}
              >
                Remove
              </button>
            )}
          </li>
        ))}
      </ul>
      {remove.error && <Notice look="stop">{errorSentence(remove.error)}</Notice>}
      <SaveForm question={question} />
    </EditorPopover>
  );
}

const whose = ({ isOwn, owner, shared }: ItemQueryView): string =>
  isOwn ? (shared ? 'yours, shared' : 'yours') : `by ${owner}`;

function SaveForm({ question }: { readonly question: Question }) {
  const save = useSaveItemQuery();
  const [name, setName] = useState('');
  const [shared, setShared] = useState(false);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate({ ...question, by: [...question.by], name, shared }, { onSuccess: () => setName('') });
  };
  return (
    <form className="mt-3 flex flex-col gap-2" onSubmit={submit}>
      <TextField
        label="Save the current query as"
        hint="The same name replaces your query of that name."
        required
        maxLength={80}
        value={name}
        onChange={({ target }) => setName(target.value)}
      />
      <label className="flex items-center gap-2 text-[12.5px]">
        <input type="checkbox" checked={shared} onChange={({ target }) => setShared(target.checked)} />
        Share it with everyone who can read results
      </label>
      {save.error && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <Button look="main" type="submit" className="self-start">
        Save query
      </Button>
    </form>
  );
}
