import type { LabelChangeRow } from '@lantern/contracts';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { useSearchParams } from 'react-router';
import { saveFile } from '../../data/save-file';
import { useLabelChanges, useLabels } from '../../data/labels';
import { Button } from '../../ui/button';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { CARRIER_WORDS, HOW_WORDS, SHIFT_WORDS } from '../../wording/labels';
import { exactTime, shortTime } from '../../wording/times';
import { toggled } from './edit';
import { LabelPlaces } from './label-places';

const ROW = 34;

/** Every change of the label of an item: raised, lowered, removed, by whom and why. */
export function LabelChangesPage() {
  const [search, setSearch] = useSearchParams();
  const labels = useLabels();
  const changes = useLabelChanges(search.toString().replace('find=', 'search='));
  const shifts = (search.get('shift') ?? '').split(',').filter((each) => each !== '');
  const hows = (search.get('how') ?? '').split(',').filter((each) => each !== '');
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(search);
    if (value === '') next.delete(key);
    else next.set(key, value);
    setSearch(next, { replace: true });
  };
  const labelName = labels.data?.labels.find(({ label }) => label.id === search.get('label'))?.label.name;
  const chip = (chosen: boolean) =>
    chosen ? 'border-press bg-press-soft font-semibold' : 'border-rule-strong';
  const counts = changes.data?.counts ?? {};
  return (
    <div className="flex h-full flex-col px-7 py-4">
      <LabelPlaces />
      <div className="mb-2 flex items-center gap-3">
        <h1 className="flex-1">Label history</h1>
        <input
          aria-label="Search by person, item or reason"
          placeholder="Search by person, item or reason"
          className="field !w-64"
          value={search.get('find') ?? ''}
          onChange={(event) => set('find', event.target.value)}
        />
        <Button
          onClick={() => saveAsCsv(changes.data?.rows ?? [])}
          refusal={changes.data?.rows.length ? undefined : 'Nothing to export'}
        >
          Export as CSV
        </Button>
      </div>
      <div className="mb-2 flex flex-wrap items-center gap-2 text-[12.5px]">
        {(Object.keys(SHIFT_WORDS) as (keyof typeof SHIFT_WORDS)[]).map((shift) => (
          <button
            key={shift}
            type="button"
            aria-pressed={shifts.includes(shift)}
            className={`border px-2 py-0.5 ${chip(shifts.includes(shift))}`}
            onClick={() => set('shift', toggled(shifts, shift).join())}
          >
            {SHIFT_WORDS[shift]}, {counts[shift] ?? 0}
          </button>
        ))}
        <span className="w-3" />
        {(Object.keys(HOW_WORDS) as (keyof typeof HOW_WORDS)[]).map((how) => (
          <button
            key={how}
            type="button"
            aria-pressed={hows.includes(how)}
            className={`border px-2 py-0.5 ${chip(hows.includes(how))}`}
            onClick={() => set('how', toggled(hows, how).join())}
          >
            {HOW_WORDS[how]}, {counts[how] ?? 0}
          </button>
        ))}
        {search.get('label') && (
          <button
            type="button"
            className={`border px-2 py-0.5 ${chip(true)}`}
            onClick={() => set('label', '')}
          >
            {labelName ?? 'one label'} ×
          </button>
        )}
      </div>
      {changes.isPending && <Loading what="the changes" />}
      {changes.isError && <Notice look="stop">{errorSentence(changes.error)}</Notice>}
      {changes.data?.rows.length === 0 && (
        <Empty title="No label changed">
          Every label that a person or a rule sets, raises, lowers or removes is listed here with its reason.
        </Empty>
      )}
      {changes.data && changes.data.rows.length > 0 && (
        <>
          <Rows rows={changes.data.rows} />
          {changes.data.total > changes.data.rows.length && (
            <p className="pt-1 text-[12.5px] text-ink-2">
              The newest {changes.data.rows.length} of {changes.data.total}. Use filters to see others.
            </p>
          )}
        </>
      )}
    </div>
  );
}

const COLUMNS =
  'grid grid-cols-[110px_80px_minmax(0,1.2fr)_minmax(0,1fr)_minmax(0,1fr)_minmax(0,1.2fr)] gap-3';

function Rows({ rows }: { readonly rows: readonly LabelChangeRow[] }) {
  const scroll = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const now = new Date();
  return (
    <>
      <div className={`${COLUMNS} border-b border-rule-strong pb-1 text-[12.5px] font-semibold text-ink-2`}>
        <span>When</span>
        <span>What</span>
        <span>Item</span>
        <span>Label</span>
        <span>By</span>
        <span>Reason</span>
      </div>
      <div
        ref={scroll}
        tabIndex={0}
        aria-label="Label changes"
        role="region"
        className="min-h-0 flex-1 overflow-auto"
      >
        <ul className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index];
            if (!row) return null;
            return (
              <li
                key={row.id}
                className={`${COLUMNS} absolute inset-x-0 items-center border-b border-dotted border-rule text-[13px]`}
                style={{ top: start, height: ROW }}
              >
                <span title={exactTime(row.at)} className="text-ink-2">
                  {shortTime(row.at, now)}
                </span>
                <b className={row.shift === 'lowered' || row.shift === 'removed' ? 'text-stop' : ''}>
                  {SHIFT_WORDS[row.shift]}
                </b>
                <span className="truncate" title={row.item}>
                  {row.item}{' '}
                  <span className="text-ink-2">
                    {row.carrier === 'document' ? '' : CARRIER_WORDS[row.carrier]}
                  </span>
                </span>
                <span className="truncate">
                  {row.before && <span className="text-ink-2">{row.before.name} → </span>}
                  {row.after?.name ?? 'none'}
                </span>
                <span className="truncate" title={row.by}>
                  {row.by}{' '}
                  <span className="text-ink-2">{row.how === 'by-hand' ? '' : HOW_WORDS[row.how]}</span>
                </span>
                <span className="truncate" title={row.reason}>
                  {row.reason}
                </span>
              </li>
            );
          })}
        </ul>
      </div>
    </>
  );
}

/** Exactly what is shown, safe to open in a spreadsheet: nothing begins like a formula. */
function saveAsCsv(rows: readonly LabelChangeRow[]): void {
  const cell = (value: string): string =>
    `"${(/^[=+\-@\t\r]/.test(value) ? `'${value}` : value).replaceAll('"', '""')}"`;
  const lines = [
    ['when', 'what', 'item', 'before', 'after', 'by', 'how', 'reason'],
    ...rows.map((row) => [
      row.at,
      row.shift,
      row.item,
      row.before?.name ?? '',
      row.after?.name ?? '',
      row.by,
      row.how,
      row.reason,
    ]),
  ];
  const file = new Blob([`\uFEFF${lines.map((line) => line.map(cell).join(',')).join('\r\n')}\r\n`], {
    type: 'text/csv',
  });
  saveFile(file, 'label-changes.csv');
}
