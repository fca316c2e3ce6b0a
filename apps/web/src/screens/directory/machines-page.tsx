import type { MachineComparison, MachineListPage } from '@lantern/contracts/machines';
import { useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { useApplyMachines, useCompareMachines, useMachineGroups, useMachineList } from '../../data/machines';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Loading, Notice } from '../../ui/notice';
import {
  MACHINE_REFUSAL_WORDS,
  MACHINE_STATE_WORDS,
  machines as machineWords,
} from '../../wording/directory';
import { errorSentence } from '../../wording/errors';
import { DirectoryPage } from './directory-page';
import { Effects } from './effects';
import { Places } from './places-section';
import { MachineGroupForm } from './machine-group-form';

/** Machines of the organisation, the inventory they come from, and groups of them. */
export function MachinesPage() {
  return (
    <DirectoryPage>
      <div className="h-full overflow-auto px-5 py-4">
        <Groups />
        <Inventory />
        <MachineTable />
        <Places />
      </div>
    </DirectoryPage>
  );
}

function Groups() {
  const groups = useMachineGroups();
  const [open, setOpen] = useState<string | null>(null);
  return (
    <section aria-labelledby="machine-groups" className="mb-6">
      <h2 id="machine-groups" className="mb-1">
        Groups by network, serial number or name
      </h2>
      <p className="mb-2 max-w-3xl text-ink-2">
        Rules and policies can name these groups like those that the inventory lists.
      </p>
      {groups.isPending && <Loading what="the groups" />}
      {groups.isError && <Notice look="stop">{errorSentence(groups.error)}</Notice>}
      {groups.data?.map((group) =>
        open === group.id ? (
          <MachineGroupForm key={group.id} group={group} done={() => setOpen(null)} />
        ) : (
          <div key={group.id} className="flex max-w-4xl items-baseline gap-3 border-b border-rule py-1.5">
            <span className="font-semibold">{group.name}</span>
            <span className="min-w-0 flex-1 truncate text-ink-2">
              {[...group.networks, ...group.serials, ...group.names.map((name) => `${name}…`)].join(', ')}
            </span>
            <span className="tabular-nums">{machineWords(group.machines)}</span>
            <Button look="quiet" aria-label={`Change ${group.name}`} onClick={() => setOpen(group.id)}>
              Change
            </Button>
          </div>
        ),
      )}
      <div className="mt-2">
        {open === 'new' ? (
          <MachineGroupForm group={null} done={() => setOpen(null)} />
        ) : (
          <Button onClick={() => setOpen('new')}>Add a group</Button>
        )}
      </div>
    </section>
  );
}

function Inventory() {
  const compare = useCompareMachines();
  const input = useRef<HTMLInputElement>(null);
  const [whole, setWhole] = useState(false);
  return (
    <section aria-labelledby="inventory" className="mb-6">
      <h2 id="inventory" className="mb-1">
        Inventory
      </h2>
      <p className="mb-2 max-w-3xl text-ink-2">
        A CSV or LDIF file with names, serial numbers, addresses, users and groups. You see what would change
        before anything is saved.
      </p>
      <div className="flex flex-wrap items-center gap-3">
        <input
          ref={input}
          type="file"
          className="sr-only"
          aria-label="File of machines"
          accept=".csv,.tsv,.txt,.ldif,.ldf,text/csv"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) compare.mutate({ file, whole });
            event.target.value = '';
          }}
        />
        <Button onClick={() => input.current?.click()}>Choose a file</Button>
        <label className="flex items-baseline gap-2">
          <input type="checkbox" checked={whole} onChange={(event) => setWhole(event.target.checked)} />
          The file lists every machine. Remove those that are missing
        </label>
        {compare.isPending && <Loading what="the file" />}
      </div>
      {compare.isError && <Notice look="stop">{errorSentence(compare.error)}</Notice>}
      {compare.data && <Comparison comparison={compare.data} close={() => compare.reset()} />}
    </section>
  );
}

function Comparison({
  comparison,
  close,
}: {
  readonly comparison: MachineComparison;
  readonly close: () => void;
}) {
  const apply = useApplyMachines();
  const { id, counts, added, changed, left, refused, ignored, effects, leavingPercent } = comparison;
  const nothing = counts.added + counts.changed + counts.left === 0;
  const names = (list: readonly { readonly name: string }[], all: number) =>
    `${list
      .slice(0, 10)
      .map(({ name }) => name)
      .join(', ')}${all > 10 ? ` and ${(all - 10).toLocaleString('en')} more` : ''}`;
  return (
    <div role="region" aria-label="Comparison" className="mt-3 max-w-4xl bg-sunk px-3 py-3">
      <p className="mb-1" role="status">
        {counts.added} to add, {counts.changed} to change, {counts.left} to remove, {counts.unchanged}{' '}
        unchanged.
      </p>
      {counts.added > 0 && <p className="text-ink-2">To add: {names(added, counts.added)}</p>}
      {counts.changed > 0 && (
        <p className="text-ink-2">
          To change:{' '}
          {names(
            changed.map(({ after }) => after),
            counts.changed,
          )}
        </p>
      )}
      {counts.left > 0 && <p className="text-ink-2">To remove: {names(left, counts.left)}</p>}
      <Effects
        effects={effects}
        counted={machineWords}
        none="Policies apply to the same machines as before."
      />
      {ignored.length > 0 && <p className="text-ink-2">Columns that are not read: {ignored.join(', ')}</p>}
      {counts.refused > 0 && (
        <ul className="my-1 list-disc pl-5">
          {refused.slice(0, 10).map(({ line, code, value }) => (
            <li key={line}>
              Row {line}: {MACHINE_REFUSAL_WORDS[code]}
              {value && `: ${value}`}
            </li>
          ))}
          {counts.refused > 10 && <li>{counts.refused - 10} more rows</li>}
        </ul>
      )}
      {leavingPercent !== null && (
        <Notice look="stop">
          {counts.left} machines, {leavingPercent} percent, would be removed. Check that the file is complete.
        </Notice>
      )}
      {apply.isError && <Notice look="stop">{errorSentence(apply.error)}</Notice>}
      <span className="mt-2 flex gap-2">
        <Button
          look={leavingPercent === null ? 'main' : 'stop'}
          refusal={nothing ? 'The file changes nothing' : undefined}
          reasonIsShown
          onClick={() =>
            apply.mutate(
              { id, leavingPercent: leavingPercent ?? 100 },
              { onSuccess: () => (toast('Machines saved.'), close()) },
            )
          }
        >
          {leavingPercent === null ? 'Apply changes' : `Remove ${counts.left} machines and apply`}
        </Button>
        <Button onClick={close}>Cancel</Button>
      </span>
    </div>
  );
}

function MachineTable() {
  const [query, setQuery] = useSearchParams();
  const typed = query.get('find') ?? '';
  const found = useMachineList(typed);
  return (
    <section aria-labelledby="machines">
      <h2 id="machines" className="mb-1">
        Machines
      </h2>
      <div className="mb-2 w-80">
        <TextField
          label="Find"
          placeholder="Name, user, address, serial number or group"
          value={typed}
          onChange={(event) =>
            setQuery(event.target.value ? { find: event.target.value } : {}, { replace: true })
          }
        />
      </div>
      {found.isPending && <Loading what="the machines" />}
      {found.isError && <Notice look="stop">{errorSentence(found.error)}</Notice>}
      {found.data?.total === 0 && (
        <p className="text-ink-2">{typed ? 'No machine fits.' : 'No machines yet. Import an inventory.'}</p>
      )}
      {found.data && found.data.total > 0 && <Rows found={found.data} />}
    </section>
  );
}

function Rows({ found: { machines, total } }: { readonly found: MachineListPage }) {
  return (
    <>
      <p className="mb-1 text-[12.5px] text-ink-2">
        {machines.length < total
          ? `The first ${machines.length} of ${total.toLocaleString('en')}. Type to find others.`
          : machineWords(total)}
      </p>
      <table className="w-full text-[13px]">
        <thead>
          <tr className="text-left text-ink-2">
            <th className="py-1 font-normal">name</th>
            <th className="font-normal">user</th>
            <th className="font-normal">addresses</th>
            <th className="font-normal">serial number</th>
            <th className="font-normal">groups</th>
            <th className="font-normal">managed</th>
          </tr>
        </thead>
        <tbody>
          {machines.map((machine) => (
            <tr key={machine.name} className="border-t border-rule align-baseline">
              <td className="py-1 pr-3 font-semibold">{machine.name}</td>
              <td className="pr-3">{machine.owner}</td>
              <td className="pr-3 font-mono text-[12px]">{machine.addresses.join(', ')}</td>
              <td className="pr-3 font-mono text-[12px]">{machine.serial}</td>
              <td className="pr-3">{machine.groups.join(', ')}</td>
              <td className="pr-3">{MACHINE_STATE_WORDS[machine.state]}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
