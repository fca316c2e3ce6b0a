import {
  MAX_WATCHED,
  WATCHED_AS,
  type WatchedFolder,
  type WatchGroupView,
} from '@lantern/contracts/discovery';
import { useState } from 'react';
import { useSaveWatching } from '../../../data/discovery';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { exactTime } from '../../../wording/times';
import { WATCHED_AS_WORDS, WATCHED_NAME_WORDS, watchedWords } from '../../../wording/watching';

const NEW_FOLDER: WatchedFolder = { path: '', as: 'device', name: '', trusted: false };

/** What the machines of a group watch, and who changed it. */
export function GroupView({
  group,
  mayManage,
}: {
  readonly group: WatchGroupView;
  readonly mayManage: boolean;
}) {
  const [editing, setEditing] = useState(false);
  return (
    <article aria-label={group.group}>
      <div className="flex items-baseline gap-3">
        <h2 className="flex-1 !text-[16px] text-ink">{group.group}</h2>
        {!editing && (
          <Button
            refusal={mayManage ? undefined : 'An administrator says what machines watch.'}
            onClick={() => setEditing(true)}
          >
            Edit
          </Button>
        )}
      </div>
      {editing ? (
        <GroupForm key={group.version} group={group} onDone={() => setEditing(false)} />
      ) : (
        <>
          {group.folders.length === 0 && <p>Its machines watch nothing.</p>}
          <ul className="list-disc pl-5">
            {group.folders.map((folder) => (
              <li key={folder.path}>{watchedWords(folder)}</li>
            ))}
          </ul>
          {group.person && (
            <p>On machines that the directory gives to nobody, it counts as {group.person}.</p>
          )}
        </>
      )}
      {group.history.length > 0 && (
        <section aria-label="History" className="mt-5 max-w-2xl">
          <h2>Who changed it</h2>
          <ol>
            {group.history.map((change) => (
              <li key={change.version} className="border-b border-dotted border-rule py-1">
                {exactTime(change.at)}, {change.by}:{' '}
                {change.folders.map(({ path }) => path).join(', ') || 'watches nothing'}
              </li>
            ))}
          </ol>
        </section>
      )}
    </article>
  );
}

function GroupForm({ group, onDone }: { readonly group: WatchGroupView; readonly onDone: () => void }) {
  const save = useSaveWatching();
  const [folders, setFolders] = useState<readonly WatchedFolder[]>(
    group.folders.length > 0 ? group.folders : [NEW_FOLDER],
  );
  const [person, setPerson] = useState(group.person);
  const set = (at: number, change: Partial<WatchedFolder>) =>
    setFolders(folders.map((each, index) => (index === at ? { ...each, ...change } : each)));
  return (
    <form
      aria-label={`What ${group.group} watches`}
      className="flex max-w-2xl flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        const request = {
          ...{ folders: [...folders], version: group.version },
          ...(person.trim() === '' ? {} : { person: person.trim() }),
        };
        save.mutate({ group: group.group, request }, { onSuccess: onDone });
      }}
    >
      {folders.map((folder, index) => (
        <fieldset key={index} className="grid grid-cols-2 gap-x-3 gap-y-2 border-l-2 border-rule-strong pl-3">
          <legend className="sr-only">Folder {index + 1}</legend>
          <TextField
            label="Folder on the machine"
            required
            placeholder="/media/stick"
            maxLength={1000}
            value={folder.path}
            onChange={({ target }) => set(index, { path: target.value })}
          />
          <SelectField
            label="What it leads to"
            value={folder.as}
            options={WATCHED_AS.map((value) => ({ value, label: WATCHED_AS_WORDS[value] }))}
            onChange={(as) => set(index, { as })}
          />
          <TextField
            label={WATCHED_NAME_WORDS[folder.as]}
            required
            maxLength={200}
            value={folder.name}
            onChange={({ target }) => set(index, { name: target.value })}
          />
          <span className="flex items-end justify-between gap-2">
            {folder.as === 'device' ? (
              <label className="flex items-center gap-1.5 pb-1.5">
                <input
                  type="checkbox"
                  checked={folder.trusted}
                  onChange={() => set(index, { trusted: !folder.trusted })}
                />
                The organisation handed it out
              </label>
            ) : (
              <span />
            )}
            <Button look="quiet" onClick={() => setFolders(folders.filter((_each, at) => at !== index))}>
              Remove
            </Button>
          </span>
        </fieldset>
      ))}
      {folders.length < MAX_WATCHED && (
        <span>
          <Button onClick={() => setFolders([...folders, NEW_FOLDER])}>Add a folder</Button>
        </span>
      )}
      <TextField
        label="Whose movements they are, on machines that the directory gives to nobody"
        type="email"
        maxLength={254}
        value={person}
        onChange={({ target }) => setPerson(target.value)}
      />
      {save.error && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <span className="flex gap-2">
        <Button look="main" type="submit">
          {save.isPending ? 'Saving …' : 'Save'}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </span>
    </form>
  );
}
