import type { ProofNotice } from '@lantern/contracts';
import { useState } from 'react';
import { useProve, useProveByPasskey } from '../data/trusts';
import { errorSentence } from '../wording/errors';
import { exactTime, shortTime } from '../wording/times';
import { usePlayed } from './played';
import { phrases, type ToldLanguage } from '../wording/told';

interface Props {
  readonly proof: ProofNotice;
  readonly incident: number;
  readonly language: ToldLanguage;
  /** Gives up, where nothing else is asked beside it. */
  readonly onGiveUp: (() => void) | undefined;
}

/** Form for the code of a second factor (TOTP). */
export function Proof({ proof, incident, language, onGiveUp }: Props) {
  const say = phrases(language);
  const prove = useProve(usePlayed());
  const byPasskey = useProveByPasskey(usePlayed());
  const failed = byPasskey.error ?? prove.error;
  const [code, setCode] = useState('');
  const digits = code.replaceAll(/\D/g, '');
  return (
    <form
      aria-label={say.confirm}
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault();
        prove.mutate({ incident, code: digits }, { onSettled: () => setCode('') });
      }}
    >
      <label className="block font-semibold">
        {say.code}
        <input
          inputMode="numeric"
          autoComplete="one-time-code"
          maxLength={9}
          className="mt-0.5 block w-40 border border-rule-strong bg-white px-2 py-1 font-mono text-[16px] tracking-widest"
          value={code}
          onChange={(event) => setCode(event.target.value)}
        />
      </label>
      {failed !== null && (
        <p role="alert" className="text-stop">
          {errorSentence(failed)}
        </p>
      )}
      <p className="mt-2 flex flex-wrap items-center gap-2">
        <button
          type="submit"
          disabled={digits.length !== 6 || prove.isPending}
          className="rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
        >
          {say.confirm}
        </button>
        <button
          type="button"
          className="rounded border border-rule-strong bg-white px-2.5 py-1 disabled:opacity-60"
          disabled={byPasskey.isPending}
          onClick={() => byPasskey.mutate(incident)}
        >
          {say.passkey}
        </button>
        {onGiveUp && (
          <button
            type="button"
            className="rounded border border-rule-strong bg-white px-2.5 py-1"
            onClick={onGiveUp}
          >
            {say.takeBack}
          </button>
        )}
        <span className="text-[12.5px] text-ink-2" title={exactTime(proof.until)}>
          {say.proofTerms(shortTime(proof.until, new Date()), proof.triesLeft, proof.minutes)}
        </span>
      </p>
    </form>
  );
}
