import type { NewFactorView } from '@lantern/contracts';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { useBeginFactor, useConfirmFactor, useRemoveFactor } from '../../data/accounts';
import { KEYS } from '../../data/keys';
import { useSession } from '../../data/session';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { RecoveryCodes } from './recovery-codes';

/** A code from an authenticator, asked for beside the password. */
export function SecondFactor() {
  const { data } = useSession();
  const [codes, setCodes] = useState<readonly string[] | null>(null);
  return (
    <section aria-labelledby="factor" className="mb-8 max-w-2xl">
      <h2 id="factor" className="mb-1">
        Second factor
      </h2>
      {codes && (
        <RecoveryCodes codes={codes} close={() => setCodes(null)}>
          Your second factor is on. Keep these recovery codes, shown only now; each works once in place of a
          code.
        </RecoveryCodes>
      )}
      {data?.account.codes ? <TurnOff /> : !codes && <TurnOn onCodes={setCodes} />}
    </section>
  );
}

function TurnOn({ onCodes }: { readonly onCodes: (codes: readonly string[]) => void }) {
  const queries = useQueryClient();
  const begin = useBeginFactor();
  const confirm = useConfirmFactor();
  const submit = (code: string) =>
    confirm.mutate(code, {
      onSuccess: ({ codes }) => {
        onCodes(codes);
        void queries.invalidateQueries({ queryKey: [KEYS.session] });
      },
    });
  return (
    <>
      <p className="mb-2 text-[13px] text-ink-2">
        Off. With it, signing in asks for six digits from an authenticator on your phone as well.
      </p>
      {begin.data ? (
        <>
          <Secret factor={begin.data} />
          <CodeForm act="Turn on" submit={submit} error={confirm.error} />
        </>
      ) : (
        <Button onClick={() => begin.mutate()}>Set up second factor</Button>
      )}
      {begin.isError && <Notice look="stop">{errorSentence(begin.error)}</Notice>}
    </>
  );
}

function Secret({ factor }: { readonly factor: NewFactorView }) {
  const picture = useQuery({
    queryKey: [KEYS.factorPicture, factor.uri],
    queryFn: async () => {
      const { toString } = await import('qrcode');
      return toString(factor.uri, { type: 'svg', margin: 1 });
    },
    staleTime: Infinity,
    gcTime: 0,
  });
  return (
    <div className="mb-3 flex flex-wrap items-start gap-4">
      {picture.data && (
        <img
          alt="Picture for an authenticator"
          className="h-40 w-40 border border-rule bg-white"
          src={`data:image/svg+xml;utf8,${encodeURIComponent(picture.data)}`}
        />
      )}
      <div className="max-w-sm">
        <p className="mb-1">Scan the picture with an authenticator, or type this key:</p>
        <code className="block break-all select-all">{factor.secret}</code>
      </div>
    </div>
  );
}

function TurnOff() {
  const remove = useRemoveFactor();
  return (
    <>
      <p className="mb-2 text-[13px] text-ink-2">
        On. If you lose your authenticator, use a recovery code, or ask an administrator to reset your
        account.
      </p>
      <CodeForm
        act="Turn off"
        submit={(code) => remove.mutate(code, { onSuccess: () => void toast('Your second factor is off.') })}
        error={remove.error}
      />
    </>
  );
}

interface CodeFormProps {
  readonly act: string;
  readonly submit: (code: string) => void;
  readonly error: unknown;
}

function CodeForm({ act, submit, error }: CodeFormProps): ReactNode {
  const [code, setCode] = useState('');
  const send = (event: FormEvent) => {
    event.preventDefault();
    submit(code);
  };
  return (
    <form onSubmit={send} className="flex flex-col items-start gap-2">
      <TextField
        label="Code"
        autoComplete="one-time-code"
        required
        minLength={6}
        maxLength={20}
        value={code}
        onChange={(event) => setCode(event.target.value)}
      />
      <Button type="submit">{act} second factor</Button>
      {error !== null && <Notice look="stop">{errorSentence(error)}</Notice>}
    </form>
  );
}
