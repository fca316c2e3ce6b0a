import type { ReaderView } from '@lantern/contracts';
import type { WatchGroupView } from '@lantern/contracts/discovery';
import { useSearchParams } from 'react-router';
import { useReaders, useWatching } from '../../../data/discovery';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { ListAndOne, ListRow } from '../../../ui/list-and-one';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { READER_STATE_WORDS } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ago } from '../../../wording/times';
import { DiscoveryPage } from '../discovery-page';
import { EnrolForm } from './enrol-form';
import { GroupView } from './group-view';
import { MachineView } from './machine-view';

/** Machines that take part, by group: readers near the data, and those that watch folders. */
export function MachinesPage() {
  const readers = useReaders();
  const groups = useWatching();
  const mayManage = useMay('discovery.manage');
  const [search, setSearch] = useSearchParams();
  const isNew = search.get('enrol') !== null;
  const machine = readers.data?.find(({ id }) => id === search.get('machine'));
  const group = groups.data?.find((each) => each.group === search.get('group'));
  const first = !isNew && !machine && !group ? readers.data?.[0] : undefined;
  const shown = machine ?? first;
  const error = readers.error ?? groups.error;
  return (
    <DiscoveryPage
      bar={
        <Button
          look="main"
          refusal={mayManage ? undefined : 'An administrator enrols machines.'}
          onClick={() => setSearch({ enrol: 'new' })}
        >
          Enrol a machine
        </Button>
      }
    >
      <ListAndOne
        listName="Machines"
        list={
          <>
            {error && <Notice look="stop">{errorSentence(error)}</Notice>}
            {readers.isPending && <Loading what="the machines" />}
            {readers.data?.length === 0 && !isNew && (
              <Empty title="No machine yet">
                A reader is a small program on a machine near the data, or on a person’s machine. It asks for
                work, so its machine needs no open port; what it reads stays there.
              </Empty>
            )}
            {(groups.data ?? []).map((each) => (
              <Group
                key={each.group}
                group={each}
                machines={(readers.data ?? []).filter((reader) => reader.group === each.group)}
                chosen={group?.group === each.group ? 'group' : (shown?.id ?? null)}
                onGroup={() => setSearch({ group: each.group })}
                onMachine={(id) => setSearch({ machine: id })}
              />
            ))}
          </>
        }
        oneName="One machine or group"
        one={
          <>
            {isNew && (
              <EnrolForm groups={(groups.data ?? []).map((each) => each.group)} mayManage={mayManage} />
            )}
            {group && (
              <GroupView
                key={group.group}
                group={group}
                machines={(readers.data ?? []).filter((reader) => reader.group === group.group)}
                mayManage={mayManage}
              />
            )}
            {!group && !isNew && shown && <MachineView key={shown.id} reader={shown} mayManage={mayManage} />}
          </>
        }
      />
    </DiscoveryPage>
  );
}

interface GroupProps {
  readonly group: WatchGroupView;
  readonly machines: readonly ReaderView[];
  /** `group`, or the id of a machine. */
  readonly chosen: string | null;
  readonly onGroup: () => void;
  readonly onMachine: (id: string) => void;
}

function Group({ group, machines, chosen, onGroup, onMachine }: GroupProps) {
  const watches =
    group.folders.length === 0
      ? 'watches nothing'
      : group.folders.length === 1
        ? 'watches 1 folder'
        : `watches ${group.folders.length} folders`;
  return (
    <section aria-label={group.group}>
      <ListRow isChosen={chosen === 'group'} onChoose={onGroup} className="bg-sunk">
        <span className="text-[12.5px] font-semibold text-ink-2">Group {group.group}</span>
        <span className="text-[12.5px] text-ink-2"> · {watches}</span>
      </ListRow>
      <ol>
        {machines.map((reader) => (
          <li key={reader.id}>
            <ListRow isChosen={reader.id === chosen} onChoose={() => onMachine(reader.id)}>
              <span className="flex items-baseline gap-2">
                <b>{reader.name}</b>
                <span className={`text-[12.5px] ${reader.state === 'silent' ? 'text-stop' : 'text-ink-2'}`}>
                  {READER_STATE_WORDS[reader.state]}
                </span>
              </span>
              <span className="mt-0.5 block text-[12.5px] text-ink-2">{lineOf(reader)}</span>
            </ListRow>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** What somebody wants to know of a machine before opening it. */
function lineOf({ lastSeen, revision, watching, watchIsOld, trouble, state }: ReaderView): string {
  const troubled = watching?.folders.filter((folder) => folder.state !== 'watching').length ?? 0;
  return [
    revision === null ? 'holds no revision' : `holds revision ${revision}`,
    ...(lastSeen ? [`seen ${ago(lastSeen, new Date())}`] : []),
    ...(watching && watching.folders.length > 0
      ? [`watches ${watching.folders.length - troubled} of ${watching.folders.length} folders`]
      : []),
    ...(watching && watching.kept > 0 ? [`${watching.kept} in quarantine`] : []),
    ...(watchIsOld && state !== 'withdrawn' ? ['changes pending'] : []),
    ...(trouble ? ['trouble'] : []),
  ].join(' · ');
}
