import type { ReportRunView, ReportSummary } from '@lantern/contracts/insight';
import { useState } from 'react';
import { toast } from 'sonner';
import { useRemoveReport, useReports, useRunReport, useSaveReport } from '../../../data/insight';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { Empty, Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { count, VIEW_WORDS } from '../../../wording/insight';
import { ago, exactTime, shortTime } from '../../../wording/times';
import { InsightPage } from '../insight-page';
import { ReportForm, requestOf } from './report-form';
import { RunLines } from './run-lines';
import { scheduleWords } from '../../../wording/schedules';

/** Reports on a schedule: what differs from the last time, kept and sent. */
export function ReportsPage() {
  const reports = useReports();
  const mayWrite = useMay('incidents.route');
  const [edited, setEdited] = useState<ReportSummary | 'new' | null>(null);
  return (
    <InsightPage
      bar={
        <div className="flex justify-end py-2">
          <Button
            look="main"
            refusal={mayWrite ? undefined : 'Your account may not send reports.'}
            onClick={() => setEdited('new')}
          >
            Create report
          </Button>
        </div>
      }
    >
      {reports.error && <Notice look="stop">{errorSentence(reports.error)}</Notice>}
      {!reports.data && !reports.error && <Loading what="reports" />}
      {edited === 'new' && <ReportForm report={null} onDone={() => setEdited(null)} />}
      {reports.data?.length === 0 && edited !== 'new' && (
        <Empty title="No report yet">
          A report writes down a view on a schedule and says what is new, gone and changed since the last one.
        </Empty>
      )}
      <ul className="mt-2 flex flex-col gap-4">
        {reports.data?.map((report) => (
          <li key={report.id}>
            {edited !== 'new' && edited?.id === report.id ? (
              <ReportForm report={report} onDone={() => setEdited(null)} />
            ) : (
              <Report report={report} mayWrite={mayWrite} onEdit={() => setEdited(report)} />
            )}
          </li>
        ))}
      </ul>
    </InsightPage>
  );
}

interface Props {
  readonly report: ReportSummary;
  readonly mayWrite: boolean;
  readonly onEdit: () => void;
}

function Report({ report, mayWrite, onEdit }: Props) {
  const run = useRunReport();
  const remove = useRemoveReport();
  const save = useSaveReport();
  const [open, setOpen] = useState<string | null>(null);
  const now = new Date();
  const deleteIt = () =>
    remove.mutate(report.id, {
      onSuccess: () =>
        toast(`Report “${report.name}” deleted, with its runs`, {
          action: {
            label: 'Create it again',
            onClick: () => save.mutate({ id: null, request: requestOf(report) }),
          },
        }),
    });
  return (
    <article aria-label={report.name} className="max-w-5xl">
      <div className="flex items-baseline gap-3">
        <h2 className="text-[14.5px] text-ink">{report.name}</h2>
        <span className="text-[12.5px] text-ink-2">
          {VIEW_WORDS[report.view]} of {report.days} days · {scheduleWords(report.schedule)}
          {report.to.length > 0 ? ` · to ${report.to.join(', ')}` : ' · kept here only'} · {report.owner}
        </span>
        {mayWrite && (
          <span className="ml-auto flex gap-2">
            <Button onClick={() => run.mutate(report.id, { onSuccess: ({ id }) => setOpen(id) })}>
              {run.isPending ? 'Running …' : 'Run now'}
            </Button>
            <Button onClick={onEdit}>Edit</Button>
            <Button look="quiet" onClick={deleteIt}>
              Delete
            </Button>
          </span>
        )}
      </div>
      {(run.error ?? remove.error) && <Notice look="stop">{errorSentence(run.error ?? remove.error)}</Notice>}
      <p className="text-[12.5px] text-ink-2">
        {report.resting
          ? `${report.owner} can no longer sign in, so the report rests. Save it to take it over.`
          : !report.active
            ? 'Does not run on its schedule.'
            : report.next
              ? `Runs next ${shortTime(report.next, now)}.`
              : 'Its schedule has ended.'}
      </p>
      {report.runs.length > 0 && (
        <table className="mt-1 w-full text-[12.5px]">
          <thead>
            <tr className="border-b border-rule text-left text-ink-2">
              <th className="font-normal">Run</th>
              <th className="font-normal">Differs</th>
              <th className="font-normal">Sent</th>
              <th className="font-normal">
                <span className="sr-only">Open</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {report.runs.map((each) => (
              <Run
                key={each.id}
                run={each}
                now={now}
                open={open === each.id}
                onOpen={() => setOpen(open === each.id ? null : each.id)}
              />
            ))}
          </tbody>
        </table>
      )}
      {open && <RunLines run={open} />}
    </article>
  );
}

interface RunProps {
  readonly run: ReportRunView;
  readonly now: Date;
  readonly open: boolean;
  readonly onOpen: () => void;
}

function Run({ run, now, open, onOpen }: RunProps) {
  const { counts, deliveries, missed } = run;
  const differs = counts.new + counts.gone + counts.changed;
  return (
    <tr className="border-b border-dotted border-rule">
      <td className="py-1" title={exactTime(run.at)}>
        {shortTime(run.at, now)} <span className="text-ink-2">{ago(run.at, now)}</span>
        {missed > 0 && <span className="font-semibold"> makes up for {count(missed)} missed</span>}
      </td>
      <td>
        {run.first
          ? `First report, ${count(counts.same)} lines`
          : differs === 0
            ? `${count(counts.same)} lines, nothing differs`
            : `${count(counts.new)} new, ${count(counts.gone)} gone, ${count(counts.changed)} changed`}
      </td>
      <td>
        {deliveries.length === 0
          ? 'kept here only'
          : deliveries.map(({ address, state, reason }) => (
              <span key={address} className={`block ${state === 'stuck' ? 'text-stop' : ''}`}>
                {address}: {DELIVERY_WORDS[state]}
                {reason ? `. ${reason}` : ''}
              </span>
            ))}
      </td>
      <td className="flex justify-end gap-3 py-1">
        <button type="button" className="part min-h-6" aria-expanded={open} onClick={onOpen}>
          {open ? 'Hide' : 'Read'}
        </button>
        <a
          className="part min-h-6"
          href={`/api/insight/reports/runs/${run.id}/page`}
          target="_blank"
          rel="noreferrer"
        >
          Print
        </a>
        <a className="part min-h-6" href={`/api/insight/reports/runs/${run.id}/table`} download>
          CSV
        </a>
      </td>
    </tr>
  );
}

const DELIVERY_WORDS = { queued: 'on its way', delivered: 'delivered', stuck: 'not delivered' } as const;
