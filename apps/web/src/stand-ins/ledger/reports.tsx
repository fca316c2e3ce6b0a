import type { LedgerReportView, LedgerView, PlayerView } from '@lantern/contracts';
import { useState } from 'react';
import { useChooser } from '../../data/labels-at-work';
import { useLedgerActs } from '../../data/ledger';
import { errorSentence } from '../../wording/errors';
import { count } from '../../wording/numbers';
import { Dashboard } from './dashboard';
import { Deed } from './deeds';

interface Props {
  readonly player: PlayerView;
  readonly view: LedgerView;
}

/** Lists that can be exported, and what became of the last exports. */
export function Reports({ player, view }: Props) {
  const [open, setOpen] = useState(view.reports[0]?.id ?? '');
  const report = view.reports.find(({ id }) => id === open);
  const exports = view.deeds.filter(({ deed }) => deed === 'export').slice(0, 4);
  return (
    <div className="flex flex-col gap-4">
      <div className="flex gap-5">
        <div className="w-72 shrink-0">
          <ReportList name="Reports" kind="report" {...{ view, open, setOpen }} />
          <ReportList name="Dashboards" kind="dashboard" {...{ view, open, setOpen }} />
        </div>
        <div className="min-w-0 flex-1">
          {report?.kind === 'dashboard' && <Dashboard key={report.id} player={player} report={report} />}
          {report && <ReportForm key={report.id} player={player} report={report} />}
        </div>
      </div>
      {exports.length > 0 && (
        <section aria-label="Last exports">
          <h2>Last exports</h2>
          <ul>
            {exports.map((deed) => (
              <li key={deed.id} className="list-none border-b border-rule py-2">
                <Deed player={player} deed={deed} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

interface ListProps {
  readonly name: string;
  readonly kind: LedgerReportView['kind'];
  readonly view: LedgerView;
  readonly open: string;
  readonly setOpen: (id: string) => void;
}

function ReportList({ name, kind, view, open, setOpen }: ListProps) {
  return (
    <section aria-label={name} className="mb-3">
      <h2>{name}</h2>
      <ul>
        {view.reports
          .filter((each) => each.kind === kind)
          .map((each) => (
            <li key={each.id} className="list-none">
              <button
                type="button"
                aria-pressed={each.id === open}
                className={`block w-full border-b border-rule px-2 py-1.5 text-left ${each.id === open ? 'bg-[#f6efd8]' : ''}`}
                onClick={() => setOpen(each.id)}
              >
                <b>{each.name}</b>
                <span className="block text-[12.5px] text-ink-2">
                  {kind === 'report' ? `${count(each.rows)} records` : `${count(each.rows)} rows`}
                  {each.label ? ` · ${each.label.name}` : ''}
                </span>
              </button>
            </li>
          ))}
      </ul>
    </section>
  );
}

function ReportForm({ player, report }: { readonly player: PlayerView; readonly report: LedgerReportView }) {
  const acts = useLedgerActs(player.id);
  const chooser = useChooser(player.id, 'document');
  const [fields, setFields] = useState<readonly string[]>(report.fields);
  const [rows, setRows] = useState('');
  const [format, setFormat] = useState<'csv' | 'xlsx'>('csv');
  const failed = acts.export.error ?? acts.label.error;
  return (
    <form
      aria-label={`Export ${report.name}`}
      className="min-w-0 flex-1"
      onSubmit={(event) => {
        event.preventDefault();
        const ordered = report.fields.filter((field) => fields.includes(field));
        acts.export.mutate({
          ...{ report: report.id, format, fields: ordered },
          ...(rows === '' ? {} : { rows: Number(rows) }),
        });
      }}
    >
      <h2>{report.kind === 'dashboard' ? 'Export' : report.name}</h2>
      {report.kind === 'report' && <p className="text-ink-2">{report.about}</p>}
      <label className="mt-2 block text-[12.5px]">
        Label, inherited by exports
        <select
          className="mt-0.5 block w-72 border border-rule-strong bg-white px-1.5 py-1"
          value={report.label?.id ?? ''}
          onChange={({ target }) => acts.label.mutate({ report: report.id, label: target.value })}
        >
          <option value="">none</option>
          {report.label && !chooser.data?.labels.some(({ id }) => id === report.label?.id) && (
            <option value={report.label.id}>{report.label.name}</option>
          )}
          {chooser.data?.labels.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <fieldset className="mt-2">
        <legend className="text-[12.5px]">Fields</legend>
        <div className="flex flex-wrap gap-x-4">
          {report.fields.map((field) => (
            <label key={field} className="flex min-h-6 items-center gap-1.5">
              <input
                type="checkbox"
                checked={fields.includes(field)}
                onChange={({ target }) =>
                  setFields(target.checked ? [...fields, field] : fields.filter((each) => each !== field))
                }
              />
              {field}
            </label>
          ))}
        </div>
      </fieldset>
      <div className="mt-2 flex items-end gap-3">
        <label className="block text-[12.5px]">
          Records
          <input
            type="number"
            min={1}
            max={1_000_000}
            placeholder={`all ${count(report.rows)}`}
            className="mt-0.5 block w-36 border border-rule-strong bg-white px-1.5 py-1"
            value={rows}
            onChange={({ target }) => setRows(target.value)}
          />
        </label>
        <label className="block text-[12.5px]">
          Format
          <select
            className="mt-0.5 block border border-rule-strong bg-white px-1.5 py-1"
            value={format}
            onChange={({ target }) => setFormat(target.value === 'xlsx' ? 'xlsx' : 'csv')}
          >
            <option value="csv">CSV</option>
            <option value="xlsx">XLSX</option>
          </select>
        </label>
        <button
          type="submit"
          disabled={fields.length === 0 || acts.export.isPending}
          className="rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
        >
          {acts.export.isPending ? 'Exporting …' : 'Export'}
        </button>
        {fields.length === 0 && <span className="text-[12.5px] text-ink-2">Select at least one field.</span>}
      </div>
      {failed !== null && (
        <p role="alert" className="mt-2 text-stop">
          {errorSentence(failed)}
        </p>
      )}
    </form>
  );
}
