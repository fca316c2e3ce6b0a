import type { GroupView } from '@lantern/contracts/directory';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useDirectoryNames, useGroups, useRemoveGroup } from '../../data/directory';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { ListAndOne, ListRow } from '../../ui/list-and-one';
import { Loading, Notice } from '../../ui/notice';
import { people } from '../../wording/directory';
import { errorSentence } from '../../wording/errors';
import { DirectoryPage } from './directory-page';
import { GroupForm } from './group-form';
import { Uses } from './uses';

/** Groups that rules can name: those told by a condition, and those that the sources of people list. */
export function GroupsPage() {
  const [query, setQuery] = useSearchParams();
  const groups = useGroups();
  const names = useDirectoryNames();
  const chosen = query.get('group');
  const choose = (value: string) => setQuery({ group: value }, { replace: true });
  const conditions = groups.data ?? [];
  const listed = (names.data?.groups ?? []).filter(({ name }) =>
    conditions.every((group) => group.name.toLowerCase() !== name.toLowerCase()),
  );
  const group = conditions.find(({ id }) => id === chosen);
  const list = listed.find(({ name }) => `listed ${name}` === chosen);
  const first = !chosen && !groups.isPending && !names.isPending;
  const shownGroup = group ?? (first ? conditions[0] : undefined);
  const shownList = list ?? (first && !shownGroup ? listed[0] : undefined);
  return (
    <DirectoryPage bar={<Button onClick={() => choose('new')}>Add a group by condition</Button>}>
      <ListAndOne
        listName="Groups"
        list={
          <>
            {(groups.isPending || names.isPending) && <Loading what="the groups" />}
            {groups.isError && <Notice look="stop">{errorSentence(groups.error)}</Notice>}
            <h2 className="px-4 pt-3 pb-1 text-[12.5px] text-ink-2">By condition</h2>
            {groups.data && conditions.length === 0 && (
              <p className="px-4 pb-2 text-ink-2">
                None yet. A condition keeps a group up to date, for example everyone in a department whose job
                title begins with Manager.
              </p>
            )}
            {conditions.map((each) => (
              <ListRow key={each.id} isChosen={each === shownGroup} onChoose={() => choose(each.id)}>
                <Row name={each.name} count={each.people} />
              </ListRow>
            ))}
            <h2 className="px-4 pt-4 pb-1 text-[12.5px] text-ink-2">Listed in the source</h2>
            {listed.map((each) => (
              <ListRow
                key={each.name}
                isChosen={each === shownList}
                onChoose={() => choose(`listed ${each.name}`)}
              >
                <Row name={each.name} count={each.people} />
              </ListRow>
            ))}
          </>
        }
        oneName="Group"
        one={
          chosen === 'new' ? (
            <>
              <h2 className="mb-3">Add a group by condition</h2>
              <GroupForm done={(saved) => choose(saved.id)} />
            </>
          ) : shownGroup ? (
            <Group
              key={shownGroup.id}
              group={shownGroup}
              gone={() => setQuery({}, { replace: true })}
              saved={(saved) => choose(saved.id)}
            />
          ) : (
            shownList && (
              <>
                <h2 className="mb-2">{shownList.name}</h2>
                <p className="mb-4 max-w-xl text-ink-2">
                  {people(shownList.people)}. The file, server or person entry that lists this group decides
                  who is a member.
                </p>
                <Uses kind="group" name={shownList.name} />
              </>
            )
          )
        }
      />
    </DirectoryPage>
  );
}

function Row({ name, count }: { readonly name: string; readonly count: number }) {
  return (
    <span className="flex gap-2">
      <span className="font-semibold">{name}</span>
      <span className="ml-auto text-ink-2 tabular-nums">{people(count)}</span>
    </span>
  );
}

function Group({
  group,
  gone,
  saved,
}: {
  readonly group: GroupView;
  readonly gone: () => void;
  readonly saved: (group: GroupView) => void;
}) {
  const remove = useRemoveGroup();
  return (
    <>
      <h2 className="mb-3">{group.name}</h2>
      <GroupForm group={group} done={saved} />
      <div className="mt-3 mb-5">
        <AskFirst
          name="Remove group"
          effect={`${people(group.people)} will no longer be members of it.`}
          does="Remove group"
          onDo={() => remove.mutate(group.id, { onSuccess: () => (toast(`${group.name} removed.`), gone()) })}
        />
        {remove.isError && <Notice look="stop">{errorSentence(remove.error)}</Notice>}
      </div>
      <Uses kind="group" name={group.name} />
    </>
  );
}
