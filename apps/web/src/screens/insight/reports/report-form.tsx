import {
  CUT_FIELDS,
  MAX_REPORT_DAYS,
  REPORT_VIEWS,
  type ReportSummary,
  type ReportView,
  type ScheduledReportRequest,
} from '@lantern/contracts/insight';
import { LISTED } from '@lantern/core/incidents';
import { type FormEvent, useState } from 'react';
import { useSaveReport } from '../../../data/insight';
import { FilterChips } from '../../../shared/filter/filter-chips';
import { Button } from '../../../ui/button';
import { SelectField, TextArea, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { FIELD_WORDS, LISTED_WORDS } from '../../../wording/desk';
import { errorSentence } from '../../../wording/errors';
import { VIEW_WORDS } from '../../../wording/insight';
import { NEW_SCHEDULE, ScheduleFields } from '../../../shared/schedule/schedule-fields';

interface Props {
  readonly report: ReportSummary | null;
  readonly onDone: () => void;
}

const NEW_REPORT: ScheduledReportRequest = {
  ...{ name: '', view: 'changes', days: 7, listed: 'incidents', by: 'rule', filter: '' },
  schedule: NEW_SCHEDULE,
  ...{ to: [], active: true },
};

/** A report: what it shows, when it runs, and who gets it. */
export function ReportForm({ report, onDone }: Props) {
  const [draft, setDraft] = useState<ScheduledReportRequest>(() => (report ? requestOf(report) : NEW_REPORT));
  const [addresses, setAddresses] = useState(draft.to.join('\n'));
  const save = useSaveReport();
  const set = (changed: Partial<ScheduledReportRequest>) => setDraft({ ...draft, ...changed });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const to = addresses.split(/[\s,;]+/u).filter(Boolean);
    const request = { ...draft, to, ...(report ? { version: report.version } : {}) };
    save.mutate({ id: report?.id ?? null, request }, { onSuccess: onDone });
  };
  return (
    <form className="max-w-3xl border border-rule bg-sheet p-4" aria-label="Report" onSubmit={submit}>
      <div className="grid grid-cols-2 gap-x-5 gap-y-3">
        <TextField
          label="Name"
          required
          maxLength={120}
          value={draft.name}
          onChange={(event) => set({ name: event.target.value })}
        />
        <SelectField<ReportView>
          label="Shows"
          value={draft.view}
          options={REPORT_VIEWS.map((value) => ({ value, label: VIEW_WORDS[value] }))}
          onChange={(view) => set({ view })}
        />
        <TextField
          label="Days before each run"
          type="number"
          min={1}
          max={MAX_REPORT_DAYS}
          value={draft.days}
          onChange={(event) => set({ days: Number(event.target.value) })}
        />
        {(draft.view === 'changes' || draft.view === 'most') && (
          <SelectField
            label="Counts"
            value={draft.listed}
            options={LISTED.map((value) => ({ value, label: LISTED_WORDS[value] }))}
            onChange={(listed) => set({ listed })}
          />
        )}
        {draft.view === 'changes' && (
          <SelectField
            label="Divided by"
            value={draft.by ?? ''}
            options={[
              { value: '', label: 'nothing' },
              ...CUT_FIELDS.map((value) => ({ value, label: FIELD_WORDS[value] })),
            ]}
            onChange={(by) =>
              set({ by: by === '' ? null : (by as NonNullable<ScheduledReportRequest['by']>) })
            }
          />
        )}
      </div>
      <h3 className="mt-3 mb-1 text-[12.5px] font-semibold text-ink-2">Filter</h3>
      <FilterChips line={draft.filter} listed={draft.listed} onChange={(filter) => set({ filter })} />
      <ScheduleFields schedule={draft.schedule} onChange={(schedule) => set({ schedule })} />
      <TextArea
        className="mt-3"
        label="Send to"
        hint="Addresses of the organisation, one a line: people, or a mailbox that makes tickets. Left empty, the report is only kept here."
        rows={2}
        value={addresses}
        onChange={(event) => setAddresses(event.target.value)}
      />
      <label className="mt-3 flex items-center gap-2">
        <input
          type="checkbox"
          checked={draft.active}
          onChange={(event) => set({ active: event.target.checked })}
        />
        Runs on its schedule
      </label>
      {save.error && (
        <div className="mt-3">
          <Notice look="stop">{errorSentence(save.error)}</Notice>
        </div>
      )}
      <div className="mt-4 flex gap-2">
        <Button look="main" type="submit">
          Save report
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  );
}

/** A report as it is saved. */
export function requestOf(report: ReportSummary): ScheduledReportRequest {
  const { name, view, days, listed, by, filter, schedule, to, active } = report;
  return { name, view, days, listed, by, filter, schedule: { ...schedule }, to: [...to], active };
}
