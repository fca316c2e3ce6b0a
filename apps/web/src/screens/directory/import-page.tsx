import type { DirectoryUpload } from '@lantern/contracts/directory';
import { COLUMN_MEANINGS, type ColumnMeaning } from '@lantern/core/directory';
import { type DragEvent, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  useCompare,
  useDirectoryHistory,
  useDirectoryServer,
  useComparison,
  useUploadPeople,
} from '../../data/directory';
import { Button } from '../../ui/button';
import { Loading, Notice } from '../../ui/notice';
import { MEANING_WORDS, people, SOURCE_WORDS } from '../../wording/directory';
import { errorSentence } from '../../wording/errors';
import { exactTime, shortTime } from '../../wording/times';
import { DirectoryPage } from './directory-page';
import { ComparisonView } from './comparison-view';
import { ScimSection } from './scim-section';
import { ServerForm } from './server-form';

/** People from a file, a directory server or an identity provider: compared first, then taken over whole. */
export function ImportPage() {
  const [query, setQuery] = useSearchParams();
  const id = query.get('comparison');
  const comparison = useComparison(id);
  const show = (comparison: string | null) =>
    setQuery(comparison ? { comparison } : {}, { replace: comparison === null });
  return (
    <DirectoryPage>
      <div className="h-full overflow-auto px-5 py-4">
        {id !== null ? (
          <>
            {comparison.isPending && <Loading what="the comparison" />}
            {comparison.isError && (
              <>
                <Notice look="stop">{errorSentence(comparison.error)}</Notice>
                <div className="mt-3">
                  <Button onClick={() => show(null)}>Back</Button>
                </div>
              </>
            )}
            {comparison.data && <ComparisonView comparison={comparison.data} close={() => show(null)} />}
          </>
        ) : (
          <Sources compared={show} />
        )}
      </div>
    </DirectoryPage>
  );
}

function Sources({ compared }: { readonly compared: (id: string) => void }) {
  const server = useDirectoryServer();
  return (
    <div className="grid grid-cols-1 gap-x-8 gap-y-6 lg:grid-cols-2">
      <div className="flex flex-col gap-6">
        <section aria-labelledby="from-file">
          <h2 id="from-file" className="mb-1">
            From a file
          </h2>
          <p className="mb-3 max-w-xl text-ink-2">
            A CSV or LDIF file. You see every change and the rules it affects before anything is saved.
          </p>
          <FromFile compared={compared} />
        </section>
        <ScimSection compared={compared} />
      </div>
      <section aria-labelledby="from-server">
        <h2 id="from-server" className="mb-1">
          From a directory server
        </h2>
        <p className="mb-3 max-w-xl text-ink-2">
          We read people, groups, managers and offices by LDAP. Use an account that can only read.
        </p>
        {server.isError && <Notice look="stop">{errorSentence(server.error)}</Notice>}
        {server.isSuccess && (
          <ServerForm key={server.data?.address ?? ''} server={server.data} compared={compared} />
        )}
      </section>
      <History />
    </div>
  );
}

function FromFile({ compared }: { readonly compared: (id: string) => void }) {
  const upload = useUploadPeople();
  const compare = useCompare();
  const input = useRef<HTMLInputElement>(null);
  const [found, setFound] = useState<DirectoryUpload | null>(null);
  const [meanings, setMeanings] = useState<readonly (ColumnMeaning | null)[]>([]);
  const [whole, setWhole] = useState(true);
  const take = (file: File | undefined) => {
    if (!file) return;
    setFound(null);
    compare.reset();
    upload.mutate(file, {
      onSuccess: (read) => {
        setFound(read);
        setMeanings(read.columns.map(({ meaning }) => meaning));
      },
    });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    take(event.dataTransfer.files[0]);
  };
  const refusal =
    found?.kind === 'table' && !meanings.includes('address')
      ? 'Choose the column with the mail address'
      : undefined;
  return (
    <div
      className="flex max-w-2xl flex-col gap-3"
      role="group"
      aria-label="File"
      onDragOver={(event) => event.preventDefault()}
      onDrop={drop}
    >
      <div className="flex items-center gap-3 rounded border border-dashed border-rule-strong px-3 py-3">
        <input
          ref={input}
          type="file"
          className="sr-only"
          aria-label="File of people"
          accept=".csv,.tsv,.txt,.ldif,.ldf,text/csv"
          onChange={(event) => {
            take(event.target.files?.[0]);
            event.target.value = '';
          }}
        />
        <Button onClick={() => input.current?.click()}>Choose a file</Button>
        <span className="text-ink-2">or drop it here</span>
        {upload.isPending && <Loading what="the file" />}
      </div>
      {upload.isError && <Notice look="stop">{errorSentence(upload.error)}</Notice>}
      {found && (
        <>
          <p role="status">
            {found.kind === 'ldif'
              ? `An LDIF file with ${people(found.people)}.`
              : `A table with ${people(found.people)}.`}
          </p>
          {found.kind === 'table' && <Columns upload={found} meanings={meanings} onChange={setMeanings} />}
          <label className="flex items-baseline gap-2">
            <input type="checkbox" checked={whole} onChange={(event) => setWhole(event.target.checked)} />
            <span>
              The file lists everyone. Remove people from earlier files who are missing here
              <span className="block text-[12.5px] text-ink-2">
                People from other sources are never removed.
              </span>
            </span>
          </label>
          {compare.isError && <Notice look="stop">{errorSentence(compare.error)}</Notice>}
          <div>
            <Button
              look="main"
              refusal={refusal ?? (compare.isPending ? 'Comparing …' : undefined)}
              onClick={() =>
                compare.mutate(
                  {
                    ...{ upload: found.upload, whole },
                    ...(found.kind === 'table' ? { meanings: [...meanings] } : {}),
                  },
                  { onSuccess: (found) => compared(found.id), onError: () => toast('Nothing was changed.') },
                )
              }
            >
              Compare with the directory
            </Button>
          </div>
        </>
      )}
    </div>
  );
}

function Columns({
  upload,
  meanings,
  onChange,
}: {
  readonly upload: DirectoryUpload;
  readonly meanings: readonly (ColumnMeaning | null)[];
  readonly onChange: (meanings: readonly (ColumnMeaning | null)[]) => void;
}) {
  return (
    <table className="w-full text-[13px]">
      <thead>
        <tr className="text-left text-ink-2">
          <th className="py-1 font-normal">column</th>
          <th className="font-normal">holds</th>
          <th className="font-normal">for example</th>
        </tr>
      </thead>
      <tbody>
        {upload.columns.map(({ heading, examples }, at) => (
          <tr key={at} className="border-t border-rule">
            <td className="py-1 pr-3 font-semibold">{heading}</td>
            <td className="pr-3">
              <select
                aria-label={`What ${heading} holds`}
                className="field"
                value={meanings[at] ?? ''}
                onChange={(event) => {
                  const meaning = COLUMN_MEANINGS.find((each) => each === event.target.value) ?? null;
                  // A meaning belongs to one column.
                  onChange(
                    upload.columns.map((_column, index) =>
                      index === at
                        ? meaning
                        : meaning !== null && meanings[index] === meaning
                          ? null
                          : (meanings[index] ?? null),
                    ),
                  );
                }}
              >
                <option value="">not imported</option>
                {COLUMN_MEANINGS.map((meaning) => (
                  <option key={meaning} value={meaning}>
                    {MEANING_WORDS[meaning]}
                  </option>
                ))}
              </select>
            </td>
            <td className="max-w-52 truncate text-ink-2" title={examples.join(', ')}>
              {examples.join(', ')}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function History() {
  const history = useDirectoryHistory();
  return (
    <section aria-labelledby="history" className="lg:col-span-2">
      <h2 id="history" className="mb-1">
        History{' '}
      </h2>
      {history.isError && <Notice look="stop">{errorSentence(history.error)}</Notice>}
      {history.data?.length === 0 && <p className="text-ink-2">No changes yet.</p>}
      {history.data && history.data.length > 0 && (
        <table className="w-full max-w-4xl text-[13px]">
          <thead>
            <tr className="text-left text-ink-2">
              <th className="py-1 font-normal">when</th>
              <th className="font-normal">by</th>
              <th className="font-normal">source</th>
              <th className="font-normal">added</th>
              <th className="font-normal">changed</th>
              <th className="font-normal">removed</th>
              <th className="font-normal">not imported</th>
            </tr>
          </thead>
          <tbody>
            {history.data.map((each) => (
              <tr key={each.id} className="border-t border-rule">
                <td className="py-1 pr-3 whitespace-nowrap" title={exactTime(each.at)}>
                  {shortTime(each.at, new Date())}
                </td>
                <td className="pr-3">{each.actor}</td>
                <td className="pr-3">{SOURCE_WORDS[each.source]}</td>
                <td className="tabular-nums">{each.added}</td>
                <td className="tabular-nums">{each.changed}</td>
                <td className="tabular-nums">{each.left}</td>
                <td className="tabular-nums">{each.refused}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
