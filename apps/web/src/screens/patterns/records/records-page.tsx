import type { PatternDetail, RecordPreview } from '@lantern/contracts';
import { COLUMN_KINDS, type ColumnKind } from '@lantern/core/detection';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { useImportRecords, useRecordJob, useUploadRecords } from '../../../data/records';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { TextField } from '../../../ui/field';
import { Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { COLUMN_WORDS, reportSentences } from '../../../wording/records';
import { SpecimensOnServer } from '../specimens/specimens';
import { PatternHead } from '../pattern-head';
import { type ColumnChoice, proposed, readChoices } from './choices';
import { KEYS } from '../../../data/keys';

export function NewRecordsPage() {
  return <RecordsEditor pattern={null} />;
}

/** Own records: what they are and what became of the last import, and taking a file in. */
export function RecordsEditor({ pattern }: { readonly pattern: PatternDetail | null }) {
  const mayWrite = useMay('patterns.write');
  const upload = useUploadRecords();
  const take = (file: File | undefined) => file && upload.mutate(file);
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <div className="max-w-5xl">
        <PatternHead pattern={pattern} untitled="Own records" what="records" />
      </div>
      <div className="flex max-w-5xl flex-col gap-3">
        {pattern?.records && <Standing pattern={pattern} records={pattern.records} />}
        <p>
          Upload a CSV with headings, such as customers or bookings, up to a million rows. We keep only keyed
          hashes. The key is stored outside the database, so no one can read a record back.
        </p>
        {mayWrite && (
          <label className="part w-fit cursor-pointer">
            {pattern ? 'Import a newer file' : 'Choose the file'}
            <input
              type="file"
              accept=".csv,.tsv,.txt"
              className="sr-only"
              aria-label="File of records"
              onChange={(event) => {
                take(event.target.files?.[0]);
                event.target.value = '';
              }}
            />
          </label>
        )}
        {upload.isPending && <Loading what="the file" />}
        {upload.isError && <Notice look="stop">{errorSentence(upload.error)}</Notice>}
        {upload.data && <ImportForm key={upload.data.upload} preview={upload.data} pattern={pattern} />}
        {pattern && <SpecimensOnServer pattern={pattern.id} />}
      </div>
    </div>
  );
}

function Standing({
  pattern,
  records,
}: {
  readonly pattern: PatternDetail;
  readonly records: NonNullable<PatternDetail['records']>;
}) {
  const { shape, report } = records;
  return (
    <section aria-label="What to look for">
      <p>
        Found where <b>{shape.key.name}</b> appears with at least <b>{shape.needed}</b> of{' '}
        {shape.others.map(({ name }) => name).join(', ')} within {shape.window} characters.
      </p>
      <ul className="mt-1 list-disc pl-5 text-[13px]">
        {reportSentences(report).map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
      </ul>
      <p className="mt-1 text-[12.5px] text-ink-2">
        Last import by {records.updatedBy}, version {records.version}. Used by{' '}
        {pattern.usedBy.join(', ') || 'no rule yet'}. Files and mail are checked against the records. Text
        typed into the Lantern is not, because the hashes never leave the server.
      </p>
    </section>
  );
}

function ImportForm({
  preview,
  pattern,
}: {
  readonly preview: RecordPreview;
  readonly pattern: PatternDetail | null;
}) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [choices, setChoices] = useState<readonly ColumnChoice[]>(() => proposed(preview));
  const [name, setName] = useState(pattern?.name ?? '');
  const [about, setAbout] = useState(pattern?.about ?? '');
  const [needed, setNeeded] = useState(String(pattern?.records?.shape.needed ?? 1));
  const [window, setWindow] = useState(String(pattern?.records?.shape.window ?? 200));
  const begin = useImportRecords(pattern?.id);
  const job = useRecordJob(begin.data?.id ?? null);
  const done = job.data?.status === 'done' ? job.data.source : null;
  useEffect(() => {
    if (!done) return;
    toast.success(
      'The records were imported. A new set takes effect when it is published; a newer file takes effect at once.',
    );
    void queries.invalidateQueries({ queryKey: [KEYS.patterns] });
    void navigate(`/patterns/${done}`, { replace: true });
  }, [done, navigate, queries]);
  const read = readChoices(choices);
  const neededNumber = Number(needed);
  const windowNumber = Number(window);
  const refusal =
    name.trim() === ''
      ? 'Give the records a name first'
      : read.status === 'wrong'
        ? read.sentence
        : !Number.isInteger(neededNumber) || neededNumber < 1 || neededNumber > read.others.length
          ? `Require 1 to ${read.others.length} of the other columns near the key`
          : !Number.isInteger(windowNumber) || windowNumber < 20 || windowNumber > 2000
            ? 'The distance is a whole number from 20 to 2000'
            : begin.isPending || job.data?.status === 'running'
              ? 'The import is running'
              : undefined;
  const submit = () =>
    read.status === 'read' &&
    begin.mutate({
      upload: preview.upload,
      name,
      about,
      key: read.key,
      others: read.others,
      needed: neededNumber,
      window: windowNumber,
    });
  const put = (column: number, change: Partial<ColumnChoice>) =>
    setChoices((before) =>
      before.map((choice, index) => (index === column ? { ...choice, ...change } : choice)),
    );
  return (
    <section aria-label="Import" className="flex flex-col gap-3 border border-rule bg-sheet p-4">
      <p className="text-[13px]">
        {preview.more
          ? `The first ${preview.rowsSeen.toLocaleString('en')} rows were looked at`
          : `${preview.rowsSeen.toLocaleString('en')} rows`}
        , {preview.encoding}.
        {preview.raggedCount > 0 &&
          ` ${preview.raggedCount} rows are longer or shorter than the headings, starting with row ${preview.ragged.join(', ')}; their values were imported.`}
      </p>
      <div className="grid grid-cols-2 gap-3">
        <TextField
          label="Name"
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
        />
        <TextField
          label="What should be recognised?"
          value={about}
          maxLength={4000}
          onChange={(event) => setAbout(event.target.value)}
        />
      </div>
      <Columns preview={preview} choices={choices} put={put} />
      <div className="grid grid-cols-4 items-end gap-3">
        <TextField
          label="Columns that must be near"
          inputMode="numeric"
          value={needed}
          onChange={(event) => setNeeded(event.target.value)}
        />
        <TextField
          label="Maximum distance in characters"
          inputMode="numeric"
          value={window}
          onChange={(event) => setWindow(event.target.value)}
        />
        <Button look="main" className="col-start-4 justify-center" onClick={submit} refusal={refusal}>
          {pattern ? 'Replace the records' : 'Import'}
        </Button>
      </div>
      {refusal && <p className="text-right text-[12.5px] text-ink-2">{refusal}</p>}
      {begin.isError && <Notice look="stop">{errorSentence(begin.error)}</Notice>}
      {job.data?.status === 'running' && (
        <p role="status">{job.data.rows.toLocaleString('en')} rows hashed …</p>
      )}
      {job.data?.status === 'failed' && <Notice look="stop">{job.data.sentence}</Notice>}
    </section>
  );
}

interface ColumnsProps {
  readonly preview: RecordPreview;
  readonly choices: readonly ColumnChoice[];
  readonly put: (column: number, change: Partial<ColumnChoice>) => void;
}

const USES = ['key', 'beside', 'left out'] as const;

function Columns({ preview, choices, put }: ColumnsProps) {
  return (
    <table className="w-full text-[13px]" aria-label="Columns of the file">
      <thead>
        <tr className="border-b border-rule-strong text-left text-[12.5px] text-ink-2">
          {['Column', 'Used as', 'Holds', 'Filled', 'Different', 'Such as'].map((heading) => (
            <th key={heading} className="py-1 pr-3 font-semibold">
              {heading}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {preview.columns.map((column, index) => (
          <tr key={`${index} ${column.name}`} className="border-b border-dotted border-rule">
            <td className="py-1 pr-3 whitespace-nowrap">{column.name}</td>
            <td className="pr-3">
              <select
                aria-label={`Use of ${column.name}`}
                className="field h-7 w-40"
                value={choices[index]?.use}
                onChange={(event) => put(index, { use: event.target.value as ColumnChoice['use'] })}
              >
                {USES.map((use) => (
                  <option key={use} value={use}>
                    {use === 'beside' ? 'beside the key' : use}
                  </option>
                ))}
              </select>
            </td>
            <td className="pr-3">
              <select
                aria-label={`Kind of ${column.name}`}
                className="field h-7 w-40"
                value={choices[index]?.kind}
                onChange={(event) => put(index, { kind: event.target.value as ColumnKind })}
              >
                {COLUMN_KINDS.map((kind) => (
                  <option key={kind} value={kind}>
                    {COLUMN_WORDS[kind]}
                  </option>
                ))}
              </select>
            </td>
            <td className="pr-3 whitespace-nowrap">{Math.round(column.filled * 100)} %</td>
            <td className="pr-3 whitespace-nowrap">{Math.round(column.distinct * 100)} %</td>
            <td className="w-full max-w-0 truncate font-mono text-[12px]">{column.samples.join('  ')}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
