import type { LanternFileResult } from '@lantern/contracts';
import { countFindings } from '@lantern/core/detection';
import { type InspectedPart } from '@lantern/core/movement';
import { tableRows } from '@lantern/core/text';
import { type DragEvent, useEffect, useMemo, useRef, useState } from 'react';
import { inspectFile, useLanternSet, usePatternNames } from '../data/patterns';
import { useLantern } from '../stores/lantern-store';
import { Button } from '../ui/button';
import { Loading, Notice } from '../ui/notice';
import { errorSentence } from '../wording/errors';
import { allFindings } from './all-findings';
import { FoundText } from './found-text';
import { useScan } from './use-scan';
import { type Selected, WhyNot } from './why-not';
import { UNREADABLE_WORDS } from '../wording/terms';
import { looksLikeAutomation, MayItRun } from './may-it-run';
import { WhatWouldHappen } from './what-would-happen';

type FileState =
  | { readonly status: 'none' }
  | { readonly status: 'reading'; readonly name: string }
  | { readonly status: 'failed'; readonly name: string; readonly sentence: string }
  | { readonly status: 'read'; readonly result: LanternFileResult };

export function Panel() {
  const { text, setText, setOpen } = useLantern();
  const set = useLanternSet();
  const scan = useScan(text, set.data);
  const isAutomation = looksLikeAutomation(text);
  const [file, setFile] = useState<FileState>({ status: 'none' });
  const [selected, setSelected] = useState<Selected>({ from: 0, to: 0 });
  const input = useRef<HTMLTextAreaElement>(null);
  useEffect(() => input.current?.focus(), []);
  const take = async (taken: File | undefined) => {
    if (!taken) return;
    setFile({ status: 'reading', name: taken.name });
    try {
      setFile({ status: 'read', result: await inspectFile(taken) });
    } catch (error) {
      setFile({ status: 'failed', name: taken.name, sentence: errorSentence(error) });
    }
  };
  const drop = (event: DragEvent) => {
    if (event.dataTransfer.files.length === 0) return;
    event.preventDefault();
    void take(event.dataTransfer.files[0]);
  };
  return (
    <aside
      id="lantern"
      aria-label="Lantern"
      onDrop={drop}
      onDragOver={(event) => event.preventDefault()}
      onKeyDown={(event) => event.key === 'Escape' && setOpen(false)}
      className="flex w-[404px] shrink-0 flex-col border-l border-rule-strong bg-sheet"
    >
      <div className="flex items-baseline justify-between bg-found-soft px-4 py-2.5">
        <p className="font-head text-[16px] font-semibold">Lantern</p>
        <p className="text-[12.5px]">
          {set.data?.published
            ? `drafts and revision ${set.data.published.revision}`
            : 'drafts; nothing is published'}
        </p>
      </div>
      <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto p-4">
        <textarea
          ref={input}
          aria-label="Text to inspect"
          placeholder="Type or paste text, or drop a file or a mail here. To ask why something is not found, select it."
          className="field min-h-24 font-mono text-[12.5px]"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onSelect={({ currentTarget }) =>
            setSelected({ from: currentTarget.selectionStart, to: currentTarget.selectionEnd })
          }
        />
        {isAutomation && <MayItRun text={text} />}
        {set.data && <WhyNot text={text} selected={selected} drafts={set.data.drafts} />}
        <FilePicker take={take} />
        {text.trim() !== '' &&
          set.data?.drafts.own.some((own) => own.origin === 'records' || own.origin === 'documents') && (
            <Button onClick={() => void take(new File([text], 'text of the Lantern.txt'))}>
              Also look for own records and documents, on the server
            </Button>
          )}
        {set.isError && <Notice look="stop">{errorSentence(set.error)}</Notice>}
        {file.status === 'reading' && <Loading what={file.name} />}
        {file.status === 'failed' && (
          <Notice look="stop">
            {file.name}: {file.sentence}
          </Notice>
        )}
        {file.status === 'read' && set.data && (
          <FileFindings result={file.result} set={set.data} clear={() => setFile({ status: 'none' })} />
        )}
        {file.status === 'none' && scan && set.data && <TextFindings scan={scan} set={set.data} />}
        {file.status === 'none' && !scan && (
          <p className="text-ink-2">
            Findings light up here with their certainty, the reasons, and what would happen on each channel.
            Text stays in this browser. The server reads files and keeps nothing of them.
          </p>
        )}
        {!isAutomation && <MayItRun text={null} />}
      </div>
    </aside>
  );
}

function FilePicker({ take }: { readonly take: (file: File | undefined) => Promise<void> }) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <div>
      <input
        ref={picker}
        type="file"
        aria-label="File to inspect"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          void take(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      <Button onClick={() => picker.current?.click()}>Choose a file or a mail</Button>
    </div>
  );
}

type Set = NonNullable<ReturnType<typeof useLanternSet>['data']>;

function TextFindings({
  scan,
  set,
}: {
  readonly scan: NonNullable<ReturnType<typeof useScan>>;
  readonly set: Set;
}) {
  const rows = tableRows(scan.text);
  const part = (findings: typeof scan.drafts): { parts: InspectedPart[] } => ({
    parts: [
      {
        ...{ status: 'read', role: 'body', path: ['text'], characters: scan.text.length, findings },
        ...(rows > 0 ? { rows } : {}),
      },
    ],
  });
  return (
    <>
      <Count total={scan.drafts.length} from="in this browser" />
      <FoundText text={scan.text} findings={scan.drafts} />
      <WhatWouldHappen set={set} published={part(scan.published)} drafts={part(scan.drafts)} />
    </>
  );
}

function FileFindings({
  result,
  set,
  clear,
}: {
  readonly result: LanternFileResult;
  readonly set: Set;
  readonly clear: () => void;
}) {
  const names = usePatternNames();
  const found = useMemo(() => allFindings(result), [result]);
  const partsBy = (side: 'drafts' | 'published'): InspectedPart[] =>
    result.parts.map((part, index) =>
      part.status === 'read'
        ? {
            status: 'read',
            role: 'attachment',
            ...(part.inner === undefined ? {} : { inner: part.inner }),
            path: part.path,
            characters: part.text.length,
            ...(part.rows > 0 ? { rows: part.rows } : {}),
            findings: found[side][index] ?? [],
          }
        : { status: 'unreadable', role: 'attachment', path: part.path, reason: part.reason },
    );
  const asItem = { files: [result.facts], labels: result.labels };
  const all = useMemo(() => found.drafts.flat(), [found]);
  const total = all.length;
  const kinds = useMemo(() => [...new Set(all.map(({ pattern }) => pattern))], [all]);
  return (
    <>
      <div className="flex items-center justify-between gap-2 bg-sunk px-3 py-2">
        <b className="truncate">{result.name}</b>
        <Button look="quiet" onClick={clear}>
          Clear
        </Button>
      </div>
      <Count total={total} from="by the server, which keeps nothing" />
      {kinds.map((kind) => (
        <p key={kind} className="text-[12.5px]">
          {names.get(kind) ?? kind}: {countFindings(all, kind, 50).findings} found,{' '}
          {countFindings(all, kind, 50).distinct} distinct
        </p>
      ))}
      {result.parts.map((part) => (
        <section key={part.path.join('/')} aria-label={part.path.join(', ')}>
          <h2 className="mb-1 break-words">{part.path.slice(1).join(' › ') || 'its text'}</h2>
          {part.status === 'unreadable' ? (
            <Notice look="stop">
              This part could not be read: {UNREADABLE_WORDS[part.reason]}. A rule can ask for unreadable
              parts.
            </Notice>
          ) : (
            <FoundText text={part.text} findings={part.findings} />
          )}
          {part.status === 'read' && part.cut && (
            <p className="mt-1 text-[12.5px] text-ink-2">
              Only the beginning is shown. All of it was inspected.
            </p>
          )}
        </section>
      ))}
      <WhatWouldHappen
        set={set}
        published={{ parts: partsBy('published'), ...asItem }}
        drafts={{ parts: partsBy('drafts'), ...asItem }}
      />
    </>
  );
}

function Count({ total, from }: { readonly total: number; readonly from: string }) {
  return (
    <h2 role="status">
      {total === 0 ? 'Nothing found' : `Found, ${total}`} <span className="font-normal">{from}</span>
    </h2>
  );
}
