import type { ReaderView } from '@lantern/contracts';
import { useOwnRecords, useWithdrawReader } from '../../../data/discovery';
import { AskFirst } from '../../../ui/ask-first';
import { Notice } from '../../../ui/notice';
import { number, READER_STATE_WORDS, REST_WORDS, RIGHT_WORDS } from '../../../wording/discovery';
import { errorSentence } from '../../../wording/errors';
import { ago, dayOf, exactTime } from '../../../wording/times';
import { BLIND_WORDS, WATCH_STATE_WORDS, watchingWords } from '../../../wording/watching';
import { MachineCost } from './machine-cost';

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
      {!isOver && <MachineCost reader={reader} mayManage={mayManage} />}
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
