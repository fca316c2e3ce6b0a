import type { ReaderCode } from '@lantern/contracts';
import { type FormEvent, useState } from 'react';
import { useReaderCode } from '../../../data/discovery';
import { Button } from '../../../ui/button';
import { TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { shortTime } from '../../../wording/times';

/** A code by which one machine enrols, and what to type there. */
export function EnrolForm({
  groups,
  mayManage,
}: {
  readonly groups: readonly string[];
  readonly mayManage: boolean;
}) {
  const make = useReaderCode();
  const [group, setGroup] = useState('');
  const [code, setCode] = useState<ReaderCode | null>(null);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate(group, { onSuccess: setCode });
  };
  return (
    <form aria-label="Enrol a machine" className="flex max-w-lg flex-col gap-2.5" onSubmit={submit}>
      <h2 className="!text-[16px] text-ink">Enrol a machine</h2>
      <TextField
        label="Group"
        required
        list="known-groups"
        hint="Machines of one group stand for each other, share its places and watch the same folders."
        value={group}
        onChange={({ target }) => setGroup(target.value)}
      />
      <datalist id="known-groups">
        {groups.map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
      {make.error && <Notice look="stop">{errorSentence(make.error)}</Notice>}
      <Button look="main" type="submit" refusal={mayManage ? undefined : 'An administrator enrols machines.'}>
        Make a code
      </Button>
      {code && (
        <div role="status">
          <p className="my-1 font-mono text-[19px] tracking-wide">{code.code}</p>
          <p className="text-[12.5px] text-ink-2">
            Works once, until {shortTime(code.endsAt, new Date())}. On the machine near the data, or on a
            person’s machine:
          </p>
          <pre className="mt-1 bg-sunk p-2 font-mono text-[12px] break-all whitespace-pre-wrap select-all">
            {`npm run -s reader -- enrol --address ${window.location.origin} --code ${code.code} --may-read FOLDER\nnpm run -s reader -- run`}
          </pre>
          <p className="mt-1 text-[12.5px] text-ink-2">
            Only folders named by --may-read can be opened or watched, whoever asks for them here.
          </p>
        </div>
      )}
    </form>
  );
}
