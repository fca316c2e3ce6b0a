import type { ReaderCost, ReaderView } from '@lantern/contracts';
import { useOwnRecords, useReaderCost, useWithdrawReader } from '../../../data/discovery';
import { AskFirst } from '../../../ui/ask-first';
import { Notice } from '../../../ui/notice';
import { number, READER_STATE_WORDS, REST_WORDS, RIGHT_WORDS, size } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ago, dayOf, exactTime } from '../../../wording/times';
import { BLIND_WORDS, WATCH_STATE_WORDS, watchingWords } from '../../../wording/watching';

/** One machine: what it may do, what it watches, what it costs, and what it cannot see. */
export function MachineView({
  reader,
  mayManage,
}: {
  readonly reader: ReaderView;
  readonly mayManage: boolean;
}) {
  const withdraw = useWithdrawReader();
  const now = new Date();
  const isOver = reader.state === 'withdrawn';
  return (
    <article aria-label={reader.name} className={isOver ? 'text-ink-2' : ''}>
      <div className="flex items-baseline gap-3">
        <h2 className="!text-[16px] text-ink">{reader.name}</h2>
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
      <Told reader={reader} />
      {withdraw.error && <Notice look="stop">{errorSentence(withdraw.error)}</Notice>}
      {reader.trouble && <p className="text-stop">Trouble: {reader.trouble}</p>}
      {reader.notLookedFor.length > 0 && (
        <p>
          It cannot look for: {reader.notLookedFor.join(', ')}. Own records and sample documents stay on the
          server.
        </p>
      )}
      {!isOver && <OwnRecords reader={reader} mayManage={mayManage} />}
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
      {!isOver && <WatchingOf reader={reader} />}
      {!isOver && <Cost reader={reader} mayManage={mayManage} />}
    </article>
  );
}

/** Whether keys of own records may go to it. */
function OwnRecords({ reader, mayManage }: { readonly reader: ReaderView; readonly mayManage: boolean }) {
  const allow = useOwnRecords();
  return (
    <div className="mt-1 text-[12.5px]">
      {mayManage ? (
        <label className="flex min-h-6 items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={reader.holdsRecords}
            onChange={({ target }) => allow.mutate({ id: reader.id, allowed: target.checked })}
          />
          <span>
            Look for own records and documents.{' '}
            <span className="text-ink-2">
              During a run it receives their hashes and key, encrypted for it, and keeps them in memory only.
            </span>
          </span>
        </label>
      ) : (
        reader.holdsRecords && <p>Looks for own records and documents.</p>
      )}
      {allow.error && <Notice look="stop">{errorSentence(allow.error)}</Notice>}
    </div>
  );
}

/** Clocks that differ by less agree. */
const CLOCKS_AGREE_MS = 5_000;

/** What it said last of its machine and of its way to the workbench. */
function Told({ reader }: { readonly reader: ReaderView }) {
  const { resting, battery, roundTripMs, clockAheadMs, serves, through } = reader;
  const way = [
    ...(roundTripMs === null ? [] : [`round trip to the workbench ${number(Math.round(roundTripMs))} ms`]),
    ...(through === null ? [] : [`through ${through}`]),
    ...(serves === null
      ? []
      : [`relay for ${number(serves)} other ${serves === 1 ? 'machine' : 'machines'}`]),
    ...(battery === null ? [] : [`on battery, ${number(Math.round(battery))} %`]),
  ];
  return (
    <>
      {way.length > 0 && <p className="text-[12.5px] text-ink-2">{way.join(' · ')}</p>}
      {resting && <p>{REST_WORDS[resting]}</p>}
      {clockAheadMs !== null && Math.abs(clockAheadMs) > CLOCKS_AGREE_MS && (
        <p className="text-stop">
          Its clock is {number(Math.round(Math.abs(clockAheadMs) / 1_000))} seconds{' '}
          {clockAheadMs > 0 ? 'ahead' : 'behind'}. Requests are refused when it is more than a minute off.
        </p>
      )}
    </>
  );
}

/** What it watches, as it said last. */
function WatchingOf({ reader }: { readonly reader: ReaderView }) {
  const { watching, watchIsOld } = reader;
  if (!watching && !watchIsOld) return null;
  return (
    <section aria-label="What it watches" className="mt-4 max-w-2xl">
      <h2>What it watches</h2>
      {watchIsOld && <p className="text-stop">It does not know of the latest change of its group yet.</p>}
      {watching && (
        <>
          <ul>
            {watching.folders.map(({ path, state }) => (
              <li key={path} className={state === 'watching' ? '' : 'text-stop'}>
                <span className="font-mono">{path}</span> {WATCH_STATE_WORDS[state]}
              </li>
            ))}
          </ul>
          {watchingWords(watching).map((each) => (
            <p key={each}>{each}</p>
          ))}
          <h2 className="mt-3">What it cannot see</h2>
          <ul className="list-disc pl-5 text-ink-2">
            {BLIND_WORDS.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        </>
      )}
    </section>
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
      <tbody>
        <Times
          reader={reader}
          mayManage={mayManage}
          onSave={(cost) => save.mutate({ id: reader.id, cost })}
        />
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

/** When it goes through places: at which hours, and with how much of its battery left. */
function Times({
  reader,
  mayManage,
  onSave,
}: {
  readonly reader: ReaderView;
  readonly mayManage: boolean;
  readonly onSave: (cost: ReaderCost) => void;
}) {
  const { promised } = reader;
  const hours = promised.hours ?? null;
  const time = (end: 'from' | 'to') => (
    <input
      aria-label={`Reading hours ${end}`}
      className="field !w-28 !py-0.5"
      type="time"
      readOnly={!mayManage}
      defaultValue={hours?.[end] ?? ''}
      key={`${end} ${hours?.[end] ?? ''}`}
      onBlur={({ target }) => {
        if (target.value === (hours?.[end] ?? '')) return;
        const other =
          end === 'from' ? { from: '', to: hours?.to ?? '23:59' } : { from: hours?.from ?? '00:00', to: '' };
        onSave({ ...promised, hours: target.value === '' ? null : { ...other, [end]: target.value } });
      }}
    />
  );
  return (
    <>
      <tr>
        <td className="pr-6">Reading hours</td>
        <td className="py-0.5 pr-6" colSpan={2}>
          from {time('from')} to {time('to')}{' '}
          <span className="text-ink-2">{hours ? 'by its own clock' : 'all day'}</span>
        </td>
      </tr>
      <tr>
        <td className="pr-6">On battery, only above</td>
        <td className="pr-6" colSpan={2}>
          <input
            aria-label="On battery, only above, percent"
            className="field !w-28 !py-0.5"
            type="number"
            min={1}
            max={100}
            placeholder="any charge"
            readOnly={!mayManage}
            defaultValue={promised.batteryAbove ?? ''}
            key={String(promised.batteryAbove)}
            onBlur={({ target }) => {
              const value = target.value === '' ? null : Number(target.value);
              if (value !== (promised.batteryAbove ?? null)) onSave({ ...promised, batteryAbove: value });
            }}
          />{' '}
          % <span className="text-ink-2">Checks, changes and requests for single items always run.</span>
        </td>
      </tr>
    </>
  );
}
