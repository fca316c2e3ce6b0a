import type { ReaderView } from '@lantern/contracts';
import { useReaderCost, useWithdrawReader } from '../../../data/discovery';
import { AskFirst } from '../../../ui/ask-first';
import { Notice } from '../../../ui/notice';
import { number, READER_STATE_WORDS, RIGHT_WORDS, size } from '../../../wording/discovery';
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
      {!isOver && <WatchingOf reader={reader} />}
      {!isOver && <Cost reader={reader} mayManage={mayManage} />}
    </article>
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
