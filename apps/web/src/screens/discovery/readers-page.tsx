import type { ReaderCode, ReaderView } from '@lantern/contracts';
import { type FormEvent, useState } from 'react';
import { useReaderCode, useReaderCost, useReaders, useWithdrawReader } from '../../data/discovery';
import { useMay } from '../../data/session';
import { AskFirst } from '../../ui/ask-first';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Empty, Loading, Notice } from '../../ui/notice';
import { number, READER_STATE_WORDS, RIGHT_WORDS, size } from '../../wording/discovery';
import { errorSentence } from '../../wording/errors';
import { ago, dayOf, exactTime, shortTime } from '../../wording/times';
import { DiscoveryPage } from './discovery-page';

/** Programs near the data: enrolled by a code, what they may do, what they cost. */
export function ReadersPage() {
  const readers = useReaders();
  const mayManage = useMay('discovery.manage');
  return (
    <DiscoveryPage>
      <div className="grid h-full grid-cols-[minmax(0,1fr)_330px] gap-6 overflow-auto px-5 py-4">
        <section aria-label="Readers">
          {readers.error && <Notice look="stop">{errorSentence(readers.error)}</Notice>}
          {readers.isPending && <Loading what="the readers" />}
          {readers.data?.length === 0 && (
            <Empty title="No reader yet">
              A reader is a small program on a machine near the data. It asks for work, so its machine needs
              no open port; what it reads stays there.
            </Empty>
          )}
          <ul className="flex flex-col gap-4">
            {readers.data?.map((reader) => (
              <li key={reader.id}>
                <Reader reader={reader} mayManage={mayManage} />
              </li>
            ))}
          </ul>
        </section>
        <aside className="border-l border-rule pl-5">
          <Enrol
            groups={[...new Set((readers.data ?? []).map(({ group }) => group))]}
            mayManage={mayManage}
          />
        </aside>
      </div>
    </DiscoveryPage>
  );
}

function Reader({ reader, mayManage }: { readonly reader: ReaderView; readonly mayManage: boolean }) {
  const withdraw = useWithdrawReader();
  const now = new Date();
  const isOver = reader.state === 'withdrawn';
  return (
    <article aria-label={reader.name} className={isOver ? 'text-ink-2' : ''}>
      <div className="flex items-baseline gap-3">
        <h2 className="text-[14.5px] text-ink">{reader.name}</h2>
        <span className={reader.state === 'silent' ? 'text-stop' : ''}>
          {READER_STATE_WORDS[reader.state]}
          {reader.lastSeen && (
            <span title={exactTime(reader.lastSeen)}>, seen {ago(reader.lastSeen, now)}</span>
          )}
        </span>
        {mayManage && !isOver && (
          <AskFirst
            name="Withdraw its key"
            effect={`${reader.name} can ask for no more work, and what it has in hand goes to others of its group. Files that it holds in quarantine cannot be put back from here any more. To use it again, enrol it anew.`}
            does="Withdraw it"
            onDo={() => withdraw.mutate(reader.id)}
          />
        )}
      </div>
      <p className="text-[12.5px] text-ink-2">
        Group {reader.group} · {reader.platform} · version {reader.version} ·{' '}
        {reader.revision === null ? 'holds no revision yet' : `holds revision ${reader.revision}`} · enrolled
        by {reader.enrolledBy} on {dayOf(reader.enrolledAt)}
      </p>
      {withdraw.error && <Notice look="stop">{errorSentence(withdraw.error)}</Notice>}
      {reader.trouble && <p className="text-stop">Trouble: {reader.trouble}</p>}
      {reader.notLookedFor.length > 0 && (
        <p>
          It cannot look for: {reader.notLookedFor.join(', ')}. Own records and sample documents stay on the
          server.
        </p>
      )}
      {!isOver && (
        <p className={reader.keyEndsSoon ? 'text-stop' : 'text-[12.5px] text-ink-2'}>
          Its key ends on {dayOf(reader.keyEndsAt)}; while it runs, it renews it itself.
        </p>
      )}
      {reader.rights.length > 0 && (
        <ul className="mt-1 text-[12.5px]">
          {reader.rights.map(({ code, path }) => (
            <li key={`${code} ${path}`}>
              <span className="font-mono">{path}</span> {RIGHT_WORDS[code]}
            </li>
          ))}
        </ul>
      )}
      {!isOver && <Cost reader={reader} mayManage={mayManage} />}
    </article>
  );
}

const FIELDS = [
  ['processor', 'Share of a processor', (value: number) => `${Math.round(value * 100)} %`],
  ['bytesPerSecond', 'Bytes a second', size],
  ['itemsPerSecond', 'Items a second', (value: number) => number(Math.round(value * 10) / 10)],
] as const;

/** What it may cost its machine, beside what it did cost in the last minute. */
function Cost({ reader, mayManage }: { readonly reader: ReaderView; readonly mayManage: boolean }) {
  const save = useReaderCost();
  const { promised, used } = reader;
  return (
    <table className="mt-2 text-[12.5px]">
      <caption className="sr-only">What {reader.name} may cost and costs</caption>
      <thead>
        <tr className="text-left text-ink-2">
          <th className="pr-6 font-normal">Cost to its machine</th>
          <th className="pr-6 font-normal">At most</th>
          <th className="font-normal">In the last minute</th>
        </tr>
      </thead>
      <tbody>
        {FIELDS.map(([field, words, show]) => (
          <tr key={field}>
            <td className="pr-6">{words}</td>
            <td className="pr-6">
              <input
                aria-label={`${words}, at most`}
                className="field !w-28 !py-0.5"
                type="number"
                min={0}
                step="any"
                placeholder="no limit"
                readOnly={!mayManage}
                defaultValue={promised[field] ?? ''}
                key={String(promised[field])}
                onBlur={({ target }) => {
                  const value = target.value === '' ? null : Number(target.value);
                  if (value !== promised[field])
                    save.mutate({ id: reader.id, cost: { ...promised, [field]: value } });
                }}
              />
            </td>
            <td>{used ? show(used[field]) : 'nothing'}</td>
          </tr>
        ))}
        <tr>
          <td className="pr-6">Memory</td>
          <td className="pr-6 text-ink-2">1.5 GB a process</td>
          <td>{used ? `${number(used.residentMegabytes)} MB beside its processes` : 'nothing'}</td>
        </tr>
      </tbody>
      {save.error && (
        <tfoot>
          <tr>
            <td colSpan={3} className="text-stop">
              {errorSentence(save.error)}
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

function Enrol({ groups, mayManage }: { readonly groups: readonly string[]; readonly mayManage: boolean }) {
  const make = useReaderCode();
  const [group, setGroup] = useState('');
  const [code, setCode] = useState<ReaderCode | null>(null);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate(group, { onSuccess: setCode });
  };
  return (
    <form aria-label="Enrol a reader" className="flex flex-col gap-2.5" onSubmit={submit}>
      <h2>Enrol a reader</h2>
      <TextField
        label="Group"
        required
        list="known-groups"
        hint="Readers of one group stand for each other and share its places."
        value={group}
        onChange={({ target }) => setGroup(target.value)}
      />
      <datalist id="known-groups">
        {groups.map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
      {make.error && <Notice look="stop">{errorSentence(make.error)}</Notice>}
      <Button look="main" type="submit" refusal={mayManage ? undefined : 'An administrator enrols readers.'}>
        Make a code
      </Button>
      {code && (
        <div role="status">
          <p className="my-1 font-mono text-[19px] tracking-wide">{code.code}</p>
          <p className="text-[12.5px] text-ink-2">
            Works once, until {shortTime(code.endsAt, new Date())}. On the machine near the data:
          </p>
          <pre className="mt-1 bg-sunk p-2 font-mono text-[12px] break-all whitespace-pre-wrap select-all">
            {`npm run -s reader -- enrol --address ${window.location.origin} --code ${code.code} --may-read FOLDER\nnpm run -s reader -- run`}
          </pre>
          <p className="mt-1 text-[12.5px] text-ink-2">
            Only folders named by --may-read can be opened, whoever asks for them here.
          </p>
        </div>
      )}
    </form>
  );
}
