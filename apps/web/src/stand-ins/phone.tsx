import { useState } from 'react';
import type { PersonPasskeyView } from '@lantern/contracts/passkeys';
import { useEndOwnTrust, useOwnPasskeys, useOwnTrusts, usePhone } from '../data/trusts';
import { shortTime } from '../wording/times';
import { errorSentence } from '../wording/errors';
import { trustPlaceWords } from '../wording/applications';

/** Phone of the played person: the current code of the second factor, and where they are confirmed. */
export function Phone({ player }: { readonly player: string }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <div className="relative">
      <button
        type="button"
        aria-expanded={isOpen}
        className="min-h-6 rounded border border-[#86aea4] px-2"
        onClick={() => setOpen(!isOpen)}
      >
        Phone
      </button>
      {isOpen && <Screen player={player} />}
    </div>
  );
}

function Screen({ player }: { readonly player: string }) {
  const phone = usePhone(player, true);
  const trusts = useOwnTrusts(player, true);
  const end = useEndOwnTrust(player);
  const holding = (trusts.data ?? []).filter(({ holds }) => holds);
  const code = phone.data?.code ?? '';
  return (
    <section
      aria-label="Phone"
      className="absolute top-8 right-0 z-20 w-64 rounded-xl border-4 border-[#24332f] bg-white p-4 text-ink shadow-lg"
    >
      <h2 className="!text-[13px] !text-ink-2">Second factor</h2>
      <p className="my-1 font-mono text-[26px] tracking-[0.12em]" data-code={code}>
        {code.slice(0, 3)} {code.slice(3)}
      </p>
      <p className="text-[12.5px] text-ink-2">A new code appears every 30 seconds. Each code works once.</p>
      <Passkeys player={player} passkeys={phone.data?.passkeys ?? []} />
      {holding.length > 0 && (
        <ul className="mt-3 border-t border-rule pt-2">
          {holding.map((trust) => (
            <li key={trust.id} className="list-none text-[12.5px]">
              Confirmed {trustPlaceWords(trust.place)} until {shortTime(trust.until, new Date())}.{' '}
              <button type="button" className="min-h-6 underline" onClick={() => end.mutate(trust.id)}>
                End now
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Passkeys({
  player,
  passkeys,
}: {
  readonly player: string;
  readonly passkeys: readonly PersonPasskeyView[];
}) {
  const { add, remove } = useOwnPasskeys(player);
  const failed = add.error ?? remove.error;
  return (
    <div className="mt-3 border-t border-rule pt-2 text-[12.5px]">
      <button
        type="button"
        className="min-h-6 rounded border border-rule-strong px-2"
        onClick={() => add.mutate()}
      >
        Add this device as a passkey
      </button>
      {failed && <p className="mt-1 text-stop">{errorSentence(failed)}</p>}
      <ul>
        {passkeys.map(({ id, createdAt }) => (
          <li key={id} className="list-none">
            Passkey of {shortTime(createdAt, new Date())}.{' '}
            <button type="button" className="min-h-6 underline" onClick={() => remove.mutate(id)}>
              Remove
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
