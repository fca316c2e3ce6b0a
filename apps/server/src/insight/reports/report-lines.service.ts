import type { ReportView, ScheduledReportRequest } from '@lantern/contracts/insight';
import { type Filter, printFilter } from '@lantern/core/incidents';
import { behind, type Period, type ReportLine } from '@lantern/core/insight';
import { Injectable } from '@nestjs/common';
import { Queue } from '../../incidents/queue/queue.service.js';
import { OPEN_SIGHT } from '../../platform/auth/sight.js';
import { Changes } from '../figures/changes.service.js';
import { Most } from '../figures/most.service.js';
import { Reading } from '../figures/reading.service.js';
import { RuleCosts } from '../figures/rule-costs.service.js';
import { FIELD_NAMES_IN_REPORTS, FIGURE_NAMES, ruleDetail, STATUS_NAMES } from './report-words.js';

/** Reports go to others by mail: nobody reads in them what only silent rules found. */
const ANYBODY = { permissions: [], limits: null };
/** Incidents that a report lists. */
const MOST_INCIDENTS = 500;

type Definition = Pick<ScheduledReportRequest, 'view' | 'listed' | 'by' | 'filter'>;

/** Computes the lines of a report over a period. */
@Injectable()
export class ReportLines {
  constructor(
    private readonly changes: Changes,
    private readonly costs: RuleCosts,
    private readonly most: Most,
    private readonly reading: Reading,
    private readonly queue: Queue,
  ) {}

  /** Throws `bad-filter` for a filter that cannot be read any more. */
  lines(definition: Definition, period: Period, zone: string): Promise<ReportLine[]> {
    const filter = this.reading.filter(definition.filter);
    const of: Readonly<Record<ReportView, () => Promise<ReportLine[]>>> = {
      changes: () => this.changed(definition, period, zone),
      rules: () => this.rules(definition, period),
      most: () => this.largest(definition, period, zone),
      incidents: () => this.incidents(filter, period),
    };
    return of[definition.view]();
  }

  private async changed(
    { listed, by, filter }: Definition,
    period: Period,
    zone: string,
  ): Promise<ReportLine[]> {
    const asked = { ...asText(period), zone, filter, listed, ...(by ? { by } : {}) };
    const view = await this.changes.view(asked, OPEN_SIGHT, period.to);
    const figures = view.figures.map((figure) => ({
      key: `figure ${figure.code}`,
      name: FIGURE_NAMES[figure.code],
      ...{ value: figure.count, detail: '', listed: figure.listed, filter: figure.filter },
    }));
    const whole = this.reading.filter(filter);
    const values = view.series.slice(1).map(({ value, count }) => ({
      key: `${by} ${String(value?.value)}`,
      name: `${by ? FIELD_NAMES_IN_REPORTS[by] : ''}: ${value?.label || String(value?.value ?? 'none')}`,
      ...{ value: count, detail: '', listed },
      filter: this.reading.line(whole, period, by ? { field: by, value: value?.value ?? null } : undefined),
    }));
    return [...figures, ...values];
  }

  private async rules({ filter }: Definition, period: Period): Promise<ReportLine[]> {
    const costs = await this.costs.view({ ...asText(period), zone: 'UTC', filter }, ANYBODY);
    return costs.map((cost) => ({
      key: `rule ${cost.rule.id}`,
      name: `${cost.policy.name}: ${cost.rule.name}`,
      value: cost.figures.matches,
      detail: ruleDetail(cost.figures),
      listed: 'matches',
      filter: cost.filter,
    }));
  }

  private async largest({ filter, listed }: Definition, period: Period, zone: string): Promise<ReportLine[]> {
    const view = await this.most.view({ ...asText(period), zone, filter, listed }, OPEN_SIGHT);
    return view.fields.flatMap(({ field, values }) =>
      values.map((each) => ({
        key: `${field} ${String(each.value.value)}`,
        name: `${FIELD_NAMES_IN_REPORTS[field]}: ${each.value.label || String(each.value.value)}`,
        value: each.value.count,
        detail: '',
        listed,
        filter: each.filter,
      })),
    );
  }

  private async incidents(filter: Filter, period: Period): Promise<ReportLine[]> {
    const line = printFilter(behind(filter, period));
    const page = await this.queue.incidents({ filter: line, limit: MOST_INCIDENTS }, OPEN_SIGHT);
    return page.rows.map((row) => ({
      key: `incident ${row.number}`,
      name: `Incident ${row.number}: ${row.person.name}, ${row.severity}`,
      value: row.urgency,
      detail: STATUS_NAMES[row.outcome ?? row.status],
      listed: 'incidents',
      filter: `number eq ${row.number}`,
    }));
  }
}

const asText = ({ from, to }: Period) => ({
  from: new Date(from).toISOString(),
  to: new Date(to).toISOString(),
});
