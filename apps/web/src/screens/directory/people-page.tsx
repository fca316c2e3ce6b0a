import type { DirectoryPerson } from '@lantern/contracts/directory';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useDirectoryPeople, useRemovePerson } from '../../data/directory';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { chosenOf, ListAndOne, ListRow } from '../../ui/list-and-one';
import { Loading, Notice } from '../../ui/notice';
import { people as peopleWords, SOURCE_WORDS } from '../../wording/directory';
import { errorSentence } from '../../wording/errors';
import { DirectoryPage } from './directory-page';
import { PersonForm } from './person-form';
import { Uses } from './uses';

const PAGE = 100;

/** Everybody of the organisation, and what the directory knows of each. */
export function PeoplePage() {
  const [query, setQuery] = useSearchParams();
  const typed = query.get('find') ?? '';
  const page = Math.max(0, Number(query.get('page') ?? '1') - 1) || 0;
  const id = query.get('person');
  const found = useDirectoryPeople(typed, page);
  const set = (changes: Readonly<Record<string, string | null>>) => {
    const next = new URLSearchParams(query);
    for (const [name, value] of Object.entries(changes))
      if (value) next.set(name, value);
      else next.delete(name);
    setQuery(next, { replace: true });
  };
  const adding = id === 'new';
  const person = adding ? undefined : chosenOf(found.data?.people, id, found.isFetching);
  const pages = Math.max(1, Math.ceil((found.data?.total ?? 0) / PAGE));
  return (
    <DirectoryPage bar={<Button onClick={() => set({ person: 'new' })}>Add a person</Button>}>
      <ListAndOne
        listName="People"
        list={
          <>
            <div className="sticky top-0 border-b border-rule bg-paper px-4 py-2">
              <TextField
                label="Find"
                type="search"
                value={typed}
                placeholder="Name, address, department, office or group"
                onChange={(event) => set({ find: event.target.value, page: null, person: null })}
              />
              <p className="mt-1 flex items-center gap-2 text-[12.5px] text-ink-2" role="status">
                {found.data ? peopleWords(found.data.total) : ' '}
                {pages > 1 && (
                  <span className="ml-auto flex items-center gap-2">
                    <Button
                      onClick={() => set({ page: String(page), person: null })}
                      refusal={page === 0 ? 'This is the first page' : undefined}
                    >
                      Previous
                    </Button>
                    page {page + 1} of {pages}
                    <Button
                      onClick={() => set({ page: String(page + 2), person: null })}
                      refusal={page + 1 >= pages ? 'This is the last page' : undefined}
                    >
                      Next
                    </Button>
                  </span>
                )}
              </p>
            </div>
            {found.isPending && <Loading what="the people" />}
            {found.isError && <Notice look="stop">{errorSentence(found.error)}</Notice>}
            {found.data?.total === 0 && (
              <p className="px-4 py-3 text-ink-2">
                {typed
                  ? 'No person matches. Change the search.'
                  : 'The directory is empty. Import people from a file or a directory server, or add one by hand.'}
              </p>
            )}
            {found.data?.people.map((each) => (
              <ListRow
                key={each.id}
                isChosen={each.id === person?.id}
                onChoose={() => set({ person: each.id })}
              >
                <span className="font-semibold">{each.name}</span>
                <span className="block text-[12.5px] text-ink-2">
                  {[each.address, each.department].filter(Boolean).join(', ')}
                </span>
              </ListRow>
            ))}
          </>
        }
        oneName="Person"
        one={
          adding ? (
            <>
              <h2 className="mb-3">Add a person</h2>
              <PersonForm done={(added) => set({ person: added.id, find: null, page: null })} />
            </>
          ) : (
            person && <Person key={person.id} person={person} gone={() => set({ person: null })} />
          )
        }
      />
    </DirectoryPage>
  );
}

function Person({ person, gone }: { readonly person: DirectoryPerson; readonly gone: () => void }) {
  const remove = useRemovePerson();
  const [editing, setEditing] = useState(false);
  const { name, source } = person;
  const byHand = source === 'hand';
  if (editing)
    return (
      <>
        <h2 className="mb-3">Change {name}</h2>
        <PersonForm person={person} done={() => setEditing(false)} cancel={() => setEditing(false)} />
      </>
    );
  return (
    <>
      <h2 className="mb-3">{name}</h2>
      <dl className="mb-4 grid max-w-2xl grid-cols-[160px_1fr] gap-x-3 gap-y-1.5">
        <Fact name="Mail address">{person.address}</Fact>
        <Fact name="Department">{person.department || 'none'}</Fact>
        <Fact name="Office">{person.office || 'none'}</Fact>
        <Fact name="Job title">{person.title || 'none'}</Fact>
        <Fact name="Manager">{person.manager ?? 'none'}</Fact>
        <Fact name="Language">{person.language}</Fact>
        <Fact name="Time zone">{person.zone || 'not stated'}</Fact>
        <Fact name="Listed groups">{person.groups.join(', ') || 'none'}</Fact>
        <Fact name="Groups by condition">{person.byCondition.join(', ') || 'none'}</Fact>
        <Fact name="Source">
          {SOURCE_WORDS[source]}
          {person.key ? `, id ${person.key}` : ''}
        </Fact>
      </dl>
      <div className="mb-5 flex flex-wrap items-center gap-2">
        <Button
          onClick={() => setEditing(true)}
          refusal={byHand ? undefined : 'Change this person in the source they come from'}
        >
          Change person
        </Button>
        {byHand && (
          <AskFirst
            name="Remove person"
            effect="Rules, offers and groups will no longer apply to this person. Their name stays in incidents and history."
            does="Remove person"
            onDo={() => remove.mutate(person.id, { onSuccess: () => (toast(`${name} removed.`), gone()) })}
          />
        )}
      </div>
      {remove.isError && <Notice look="stop">{errorSentence(remove.error)}</Notice>}
      <Uses kind="person" name={person.address} />
    </>
  );
}

function Fact({ name, children }: { readonly name: string; readonly children: React.ReactNode }) {
  return (
    <>
      <dt className="text-ink-2">{name}</dt>
      <dd className="break-words">{children}</dd>
    </>
  );
}
