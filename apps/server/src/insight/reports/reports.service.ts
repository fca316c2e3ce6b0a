import { randomUUID } from 'node:crypto';
import type {
  ReportRunDetail,
  ReportRunView,
  ReportSummary,
  SaveReportRequest,
  ScheduledReportRequest,
} from '@lantern/contracts/insight';
import { type ComparedLine, isFirstRun, LINE_CHANGES, type LineChange } from '@lantern/core/insight';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { AccountEntity } from '../../accounts/account.entity.js';
import { OutgoingRecipientEntity } from '../../doors/outgoing/outgoing.entity.js';
import { PeopleService } from '../../directory/people.service.js';
import { Queue } from '../../incidents/queue/queue.service.js';
import { only } from '../../incidents/queue/rows.js';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { ReportEntity, ReportRunEntity } from './report.entity.js';
import type { WrittenReport } from './report-page.js';
import { nextRun } from '../../platform/schedule.js';

/** Reports of one organisation: a list that people still read. */
const MOST_REPORTS = 100;
/** Runs shown beside a report. */
const RUNS_SHOWN = 12;

/** Reports as people write them, and what became of their runs. */
@Injectable()
export class Reports {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly queue: Queue,
    private readonly people: PeopleService,
  ) {}

  async list(): Promise<ReportSummary[]> {
    const reports = await this.manager.find(ReportEntity, { order: { name: 'ASC' } });
    const owners = await this.manager.findBy(AccountEntity, { id: In(reports.map(({ owner }) => owner)) });
    const active = new Set(owners.filter(({ disabledAt }) => !disabledAt).map(({ id }) => id));
    return Promise.all(
      reports.map(async ({ definition, ...report }) => ({
        ...{ id: report.id, name: report.name, active: report.active, version: report.version },
        ...definition,
        by: definition.by ?? null,
        owner: report.ownerName,
        resting: !active.has(report.owner),
        next: report.nextAt?.toISOString() ?? null,
        runs: await this.runsOf(report.id),
      })),
    );
  }

  /** Saves a report; whoever saves it answers for it from then on. */
  async save(
    id: string | null,
    { version = 0, ...request }: ScheduledReportRequest & Partial<SaveReportRequest>,
    caller: Caller,
  ): Promise<ReportSummary[]> {
    this.queue.read(request.filter);
    await this.refuseOutside(request.to);
    const next = nextRun(request.schedule, Date.now());
    if (next === null)
      throw new AppError('invalid-request', 'The schedule never comes. Nothing was saved.', {
        fields: [{ field: 'schedule.rule', message: 'has no day within five years' }],
      });
    const { name, active, ...definition } = request;
    await this.manager.transaction(async (manager) => {
      const known = id === null ? null : await this.locked(manager, id);
      if (known && known.version !== version)
        throw new AppError('changed-meanwhile', `${known.ownerName} changed this report in the meantime.`, {
          details: { by: known.ownerName },
        });
      if (!known && (await manager.count(ReportEntity)) >= MOST_REPORTS)
        throw new AppError('too-many', `There are ${MOST_REPORTS} reports. Delete one first.`);
      await manager.save(
        manager.create(ReportEntity, {
          ...{ id: known?.id ?? randomUUID(), name: name.trim(), active },
          ...{ owner: caller.accountId, ownerName: caller.name, definition },
          ...{ nextAt: new Date(next), version: (known?.version ?? 0) + 1 },
        }),
      );
    });
    return this.list();
  }

  async remove(id: string): Promise<ReportSummary[]> {
    const { affected } = await this.manager.delete(ReportEntity, { id });
    if (!affected) throw new AppError('not-found', 'There is no such report.');
    return this.list();
  }

  async run(id: string): Promise<ReportRunDetail> {
    const { run, name } = await this.findRun(id);
    const [view] = await this.views([run]);
    if (!view) throw new AppError('not-found', 'There is no such report.');
    return { ...view, name, lines: run.content };
  }

  /** A run as it is printed and sent. */
  async written(id: string): Promise<WrittenReport> {
    const { run, name } = await this.findRun(id);
    const { fromAt, toAt, missed, content } = run;
    return { name, from: fromAt, to: toAt, missed, lines: content, address: this.config.address };
  }

  private async findRun(id: string): Promise<{ readonly run: ReportRunEntity; readonly name: string }> {
    const run = await this.manager.findOneBy(ReportRunEntity, { id });
    const report = run && (await this.manager.findOneBy(ReportEntity, { id: run.reportId }));
    if (!run || !report) throw new AppError('not-found', 'There is no such report.');
    return { run, name: report.name };
  }

  private async runsOf(reportId: string): Promise<ReportRunView[]> {
    const runs = await this.manager.find(ReportRunEntity, {
      where: { reportId },
      order: { at: 'DESC' },
      take: RUNS_SHOWN,
    });
    return this.views(runs);
  }

  private async views(runs: readonly ReportRunEntity[]): Promise<ReportRunView[]> {
    const mails = runs.flatMap((run) => Object.values(run.mails));
    const recipients =
      mails.length === 0
        ? []
        : await this.manager.find(OutgoingRecipientEntity, {
            where: { mailId: In(mails) },
            select: only(['id', 'mailId', 'address', 'state', 'reason']),
          });
    const byMail = new Map(recipients.map((recipient) => [recipient.mailId, recipient]));
    return runs.map((run) => ({
      ...{ id: run.id, report: run.reportId, missed: run.missed, counts: countsOf(run.content) },
      first: isFirstRun(run.content),
      planned: run.plannedAt.toISOString(),
      at: run.at.toISOString(),
      from: run.fromAt.toISOString(),
      to: run.toAt.toISOString(),
      deliveries: Object.entries(run.mails).map(([address, mail]) => {
        const recipient = byMail.get(mail);
        // Mails that everybody got are deleted after a week.
        return { address, state: recipient?.state ?? 'delivered', reason: recipient?.reason ?? '' };
      }),
    }));
  }

  /** Figures about people stay in the house. */
  private async refuseOutside(addresses: readonly string[]): Promise<void> {
    const isOutside = await this.people.outsideTest();
    const outside = addresses.filter(isOutside);
    if (outside.length > 0)
      throw new AppError(
        'invalid-request',
        `Reports go to addresses of the organisation only. Outside: ${outside.join(', ')}. Nothing was saved.`,
        { fields: [{ field: 'to', message: 'has an address outside the organisation' }] },
      );
  }

  private async locked(manager: EntityManager, id: string): Promise<ReportEntity> {
    const report = await manager.findOne(ReportEntity, {
      where: { id },
      lock: { mode: 'pessimistic_write' },
    });
    if (!report) throw new AppError('not-found', 'There is no such report.');
    return report;
  }
}

function countsOf(lines: readonly ComparedLine[]): Record<LineChange, number> {
  const count = (change: LineChange) => lines.filter((line) => line.change === change).length;
  return Object.fromEntries(LINE_CHANGES.map((change) => [change, count(change)])) as Record<
    LineChange,
    number
  >;
}
