import type { SetFile, SetImportResult } from '@lantern/contracts';
import { strToU8, zipSync } from 'fflate';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import { saveFile } from '../../data/save-file';
import { useNames } from '../../data/policies';
import { useMay } from '../../data/session';
import { fetchSet, useBringIn } from '../../data/set-files';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { ChangeList } from './change-list';

/** The whole set as a folder of text files: out as an archive, in as a chosen folder, looked at first. */
export function SetFolder() {
  const mayTakeOut = useMay('policies.silent');
  const mayBringIn = useMay('policies.write') && mayTakeOut;
  const bringIn = useBringIn();
  const names = useNames();
  const picker = useRef<HTMLInputElement>(null);
  const [looked, setLooked] = useState<{ files: readonly SetFile[]; result: SetImportResult } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const choose = async (chosen: FileList | null) => {
    setProblem(null);
    const files = await filesOf([...(chosen ?? [])]);
    bringIn.mutate(
      { files, onlyLook: true },
      {
        onSuccess: (result) => setLooked({ files, result }),
        onError: (error) => setProblem(errorSentence(error)),
      },
    );
  };
  const take = () =>
    looked &&
    bringIn.mutate(
      { files: looked.files, onlyLook: false },
      {
        onSuccess: () => {
          toast.success('The folder was imported as drafts. Nothing is published yet.');
          setLooked(null);
        },
        onError: (error) => setProblem(errorSentence(error)),
      },
    );
  return (
    <section aria-label="Policies as files" className="mt-6">
      <h2 className="mb-1">All policies as text files</h2>
      <p className="mb-2 text-[12.5px] text-ink-2">
        For version control and for the command <code>npm run -s policy</code>.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button
          refusal={mayTakeOut ? undefined : 'There may be silent rules, which your account may not see'}
          onClick={() => void takeOut().catch((error: unknown) => setProblem(errorSentence(error)))}
        >
          Export folder
        </Button>
        <Button
          refusal={mayBringIn ? undefined : 'Your account may not edit policies'}
          onClick={() => picker.current?.click()}
        >
          Import folder
        </Button>
        <input
          ref={picker}
          type="file"
          aria-label="Folder to import"
          className="sr-only"
          tabIndex={-1}
          multiple
          {...{ webkitdirectory: '' }}
          onChange={(event) => {
            void choose(event.target.files);
            event.target.value = '';
          }}
        />
      </div>
      {problem && <Notice look="stop">{problem}</Notice>}
      {looked && looked.result.faults.length > 0 && (
        <Notice look="stop">
          <p className="font-semibold">The folder was not imported. The drafts are unchanged.</p>
          <ul className="list-disc pl-5">
            {looked.result.faults.slice(0, 50).map(({ path, line, message }) => (
              <li key={`${path}${line ?? ''}${message}`}>
                {path}
                {line !== null && `, line ${line}`}: {message}
              </li>
            ))}
          </ul>
        </Notice>
      )}
      {looked && looked.result.faults.length === 0 && (
        <div className="mt-2">
          <p className="mb-1 text-[13px]">
            {looked.result.changes.length === 0
              ? 'The folder is identical to the drafts.'
              : `It would change ${looked.result.changes.length === 1 ? 'one thing' : `${looked.result.changes.length} things`} in the drafts:`}
          </p>
          <ChangeList changes={looked.result.changes} names={names} linked={false} />
          {looked.result.changes.length > 0 && (
            <Button look="main" onClick={take}>
              Replace the drafts
            </Button>
          )}
        </div>
      )}
    </section>
  );
}

/** Text files of a chosen folder, with their paths inside it. */
async function filesOf(chosen: readonly File[]): Promise<SetFile[]> {
  const wanted = chosen.filter(({ name }) => /\.ya?ml$/.test(name));
  return Promise.all(
    wanted.map(async (file) => ({
      path: file.webkitRelativePath.split('/').slice(1).join('/') || file.name,
      text: await file.text(),
    })),
  );
}

/** Saves the set as an archive; the browser asks where. */
async function takeOut(): Promise<void> {
  const files = await fetchSet();
  // A fixed time keeps the archive the same while the set is the same.
  const entries = Object.fromEntries(
    files.map(({ path, text }) => [`policy-set/${path}`, [strToU8(text), { mtime: '2000-01-01' }] as const]),
  );
  const archive = zipSync(entries as Parameters<typeof zipSync>[0]);
  saveFile(new Blob([new Uint8Array(archive)], { type: 'application/zip' }), 'policy-set.zip');
}
