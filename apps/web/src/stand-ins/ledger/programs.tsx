import type { LedgerNewKey, LedgerView, PlayerView } from '@lantern/contracts';
import { useState } from 'react';
import { useLedgerKeys } from '../../data/ledger';
import { errorSentence } from '../../wording/errors';
import { shortTime } from '../../wording/times';
import { Deed } from './deeds';

const button = 'rounded border border-rule-strong bg-white px-2.5 py-1 disabled:opacity-60';

interface Props {
  readonly player: PlayerView;
  readonly view: LedgerView;
}

/** Program keys of the person, and the requests made with them. */
export function Programs({ player, view }: Props) {
  const acts = useLedgerKeys(player.id);
  const [name, setName] = useState('');
  const [made, setMade] = useState<LedgerNewKey | null>(null);
  const asked = view.deeds.filter(({ by }) => by === 'interface');
  const failed = acts.makeKey.error ?? acts.endKey.error;
  return (
    <section aria-label="Programs">
      <h2>Programs</h2>
      <p className="text-ink-2">
        A program with your key acts in your name, under the same rules. Address:{' '}
        <code>/api/stand-ins/ledger-interface/records/customers?limit=100</code>, key in the header{' '}
        <code>authorization: Bearer …</code>.
      </p>
      <form
        className="mt-2 flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          acts.makeKey.mutate(
            { name: name.trim() },
            {
              onSuccess: (key) => {
                setMade(key);
                setName('');
              },
            },
          );
        }}
      >
        <label className="block text-[12.5px]">
          Program name
          <input
            className="mt-0.5 block w-64 border border-rule-strong bg-white px-1.5 py-1"
            maxLength={120}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
        </label>
        <button type="submit" className={button} disabled={name.trim().length < 3 || acts.makeKey.isPending}>
          Create key
        </button>
      </form>
      {failed !== null && (
        <p role="alert" className="text-stop">
          {errorSentence(failed)}
        </p>
      )}
      {made && (
        <p className="mt-2 border border-rule-strong bg-[#f6efd8] p-2">
          The key is shown only once: <code className="break-all">{made.key}</code>
        </p>
      )}
      <ul className="mt-2">
        {view.keys.map((key) => (
          <li key={key.id} className="flex list-none items-center gap-3 border-b border-rule py-1">
            <b>{key.name}</b>
            <span className="flex-1 text-[12.5px] text-ink-2">
              created {shortTime(key.madeAt, new Date())}
            </span>
            <button type="button" className={button} onClick={() => acts.endKey.mutate({ id: key.id })}>
              Revoke key
            </button>
          </li>
        ))}
      </ul>
      {asked.length > 0 && (
        <>
          <h3 className="mt-4">Requests by programs</h3>
          <ul>
            {asked.slice(0, 20).map((deed) => (
              <li key={deed.id} className="list-none border-b border-rule py-2">
                <Deed player={player} deed={deed} />
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
