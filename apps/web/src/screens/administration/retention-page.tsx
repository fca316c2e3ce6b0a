import { type KeptView, leastKeptDays, MOST_KEPT_DAYS } from '@lantern/contracts/retention';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { useKept, useSetDays, useTryDays } from '../../data/retention';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { KEPT_WORDS } from '../../wording/retention';
import { exactTime, shortTime } from '../../wording/times';
import { Holds } from './holds';
import { KeysSection } from './keys-section';
import { PersonDataSection } from './person-data';

/** How long things are kept, what is kept in any case, and what is kept about one person. */
export function RetentionPage() {
  const may = useMay('journal.set');
  const kept = useKept();
  if (!may)
    return (
      <div className="px-7 py-4">
        <h1 className="mb-2">Retention</h1>
        <Notice>Your account cannot change retention. An administrator can.</Notice>
      </div>
    );
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <h1 className="mb-1">Retention</h1>
      <p className="mb-3 max-w-3xl text-ink-2">
        Older data is permanently deleted within the hour, and the audit trail records how much. Data under a
        legal hold is never deleted. The journal has its own periods under Policies, Replay.
      </p>
      {kept.isPending && <Loading what="what is kept" />}
      {kept.isError && <Notice look="stop">{errorSentence(kept.error)}</Notice>}
      {kept.data && (
        <table className="mb-6 w-full max-w-5xl text-[13px]">
          <thead>
            <tr className="text-left text-ink-2">
              <th className="py-1 font-normal">data</th>
              <th className="font-normal">count</th>
              <th className="font-normal">oldest</th>
              <th className="font-normal">last deletion</th>
              <th className="font-normal">retention</th>
            </tr>
          </thead>
          <tbody>
            {kept.data.map((each) => (
              <KeptRow key={each.kind} kept={each} />
            ))}
          </tbody>
        </table>
      )}
      <Holds />
      <KeysSection />
      <PersonDataSection />
    </div>
  );
}

function KeptRow({ kept }: { readonly kept: KeptView }) {
  const { kind, days, count, oldest, swept } = kept;
  const { name, means } = KEPT_WORDS[kind];
  const trial = useTryDays();
  const set = useSetDays();
  const [typed, setTyped] = useState(days === null ? '' : String(days));
  const wanted = typed.trim() === '' ? null : Number(typed);
  const least = leastKeptDays(kind);
  const wrong =
    wanted !== null && (!Number.isInteger(wanted) || wanted < least || wanted > MOST_KEPT_DAYS)
      ? `Enter ${least} to ${MOST_KEPT_DAYS}, or nothing for no limit`
      : undefined;
  const within = kind === 'trail' ? 'day' : 'hour';
  const isShorter = wanted !== null && (days === null || wanted < days);
  const unchanged = wanted === days ? 'Nothing has changed' : undefined;
  const save = () =>
    set.mutate(
      { kind, days: wanted },
      {
        onSuccess: () => (
          toast(`${name}: ${wanted === null ? 'no limit' : `${wanted} days`}.`),
          trial.reset()
        ),
      },
    );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (wrong ?? unchanged) return;
    // What deletes something shows first how much.
    if (isShorter) trial.mutate({ kind, days: wanted });
    else save();
  };
  return (
    <>
      <tr className="border-t border-rule align-baseline">
        <td className="py-1.5 pr-3">
          <span className="font-semibold">{name}</span>
          <span className="block text-[12.5px] text-ink-2">{means}</span>
        </td>
        <td className="pr-3 tabular-nums">{count.toLocaleString('en')}</td>
        <td className="pr-3 whitespace-nowrap" title={oldest ? exactTime(oldest) : undefined}>
          {oldest ? shortTime(oldest, new Date()) : 'none'}
        </td>
        <td className="pr-3 whitespace-nowrap">
          {swept ? (
            <span title={exactTime(swept.at)}>
              {swept.deleted.toLocaleString('en')}, {shortTime(swept.at, new Date())}
            </span>
          ) : (
            'never'
          )}
        </td>
        <td className="py-1">
          <form onSubmit={submit} aria-label={name} className="flex flex-wrap items-center gap-2">
            <input
              aria-label={`Days for ${name}`}
              className="field w-20"
              inputMode="numeric"
              placeholder="no limit"
              value={typed}
              onChange={(event) => (setTyped(event.target.value), trial.reset())}
            />
            <span className="text-ink-2">days</span>
            {(wrong !== undefined || unchanged === undefined) && (
              <Button type="submit" refusal={wrong}>
                {isShorter ? 'Shorten …' : 'Save'}
              </Button>
            )}
          </form>
        </td>
      </tr>
      {(trial.data ?? trial.error ?? set.error) && (
        <tr>
          <td colSpan={5} className="pb-2">
            {trial.data && (
              <Notice look={trial.data.deletes > 0 ? 'stop' : 'go'}>
                <p className="mb-1.5">
                  {trial.data.deletes === 0
                    ? 'Nothing is that old yet.'
                    : `${trial.data.deletes.toLocaleString('en')} are older and will be permanently deleted within the ${within}.`}
                  {trial.data.held > 0 &&
                    ` ${trial.data.held.toLocaleString('en')} more are under a legal hold and stay.`}
                </p>
                <span className="flex gap-2">
                  <Button look={trial.data.deletes > 0 ? 'stop' : 'main'} onClick={save}>
                    Set to {wanted} days
                  </Button>
                  <Button onClick={() => (setTyped(days === null ? '' : String(days)), trial.reset())}>
                    Cancel
                  </Button>
                </span>
              </Notice>
            )}
            {trial.isError && <Notice look="stop">{errorSentence(trial.error)}</Notice>}
            {set.isError && <Notice look="stop">{errorSentence(set.error)}</Notice>}
          </td>
        </tr>
      )}
    </>
  );
}
