import type { LedgerDeedView, PlayerView } from '@lantern/contracts';
import type { SignInProof } from '@lantern/core/movement';
import { useState } from 'react';
import { useLedgerActs } from '../../data/ledger';
import { errorSentence } from '../../wording/errors';
import { DeedTold } from './deeds';

const COUNTRIES = [
  ['NO', 'Norway'],
  ['DE', 'Germany'],
  ['ES', 'Spain'],
  ['SG', 'Singapore'],
] as const;

interface Props {
  readonly player: PlayerView;
  readonly deeds: readonly LedgerDeedView[];
}

/** The door of the ledger. Where from, at which machine and with what is the simulation's to choose. */
export function SignIn({ player, deeds }: Props) {
  const { signIn } = useLedgerActs(player.id);
  const [country, setCountry] = useState('NO');
  const [proof, setProof] = useState<SignInProof>('second-factor');
  const [atWork, setAtWork] = useState(true);
  const last = deeds.find(({ deed }) => deed === 'sign-in');
  return (
    <div className="mx-auto max-w-xl p-8">
      <h1 className="!text-[20px]">Merrow Strait Lines · Ledger</h1>
      <form
        className="mt-4 border border-rule-strong bg-[#fbf8ee] p-4"
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate({ country, proof, atWork });
        }}
      >
        <fieldset>
          <legend className="font-semibold">Sign in as {player.name} with</legend>
          {(['second-factor', 'password'] as const).map((each) => (
            <label key={each} className="flex min-h-7 items-center gap-2">
              <input type="radio" name="proof" checked={proof === each} onChange={() => setProof(each)} />
              {each === 'password' ? 'password only' : 'password and second factor'}
            </label>
          ))}
        </fieldset>
        <fieldset className="mt-2">
          <legend className="font-semibold">At</legend>
          {[true, false].map((work) => (
            <label key={String(work)} className="flex min-h-7 items-center gap-2">
              <input type="radio" name="machine" checked={atWork === work} onChange={() => setAtWork(work)} />
              {work ? 'the work machine' : 'a private machine, outside network'}
            </label>
          ))}
        </fieldset>
        <label className="mt-2 block font-semibold">
          From
          <select
            className="mt-0.5 block border border-rule-strong bg-white px-1.5 py-1 font-normal"
            value={country}
            onChange={({ target }) => setCountry(target.value)}
          >
            {COUNTRIES.map(([code, name]) => (
              <option key={code} value={code}>
                {name}
              </option>
            ))}
          </select>
        </label>
        {signIn.error !== null && (
          <p role="alert" className="mt-2 text-stop">
            {errorSentence(signIn.error)}
          </p>
        )}
        <button
          type="submit"
          disabled={signIn.isPending}
          className="mt-3 rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
        >
          Sign in
        </button>
      </form>
      {last && last.endedAt === null && <DeedTold player={player} deed={last} />}
    </div>
  );
}
