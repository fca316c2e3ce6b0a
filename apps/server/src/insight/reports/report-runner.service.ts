import { randomUUID } from 'node:crypto';
import { type ComparedLine, differenceOf } from '@lantern/core/insight';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import { EntityManager, IsNull, LessThanOrEqual } from 'typeorm';
import { AccountEntity } from '../../accounts/account.entity.js';
import { OutgoingService } from '../../doors/outgoing/outgoing.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { SYSTEM_SENDER } from '../../platform/inside-mail.js';
import { ReportLines } from './report-lines.service.js';
import { reportPage, reportTable, reportText, type WrittenReport } from './report-page.js';
import { ReportEntity, ReportRunEntity } from './report.entity.js';
import { nextRun, runsBetween } from '../../platform/schedule.js';

const SWEEP_MS = 20_000;
const DAY_MS = 86_400_000;
/** Runs of one report that are kept. */
const KEPT_RUNS = 100;

/** Runs reports when they are due, and makes up for those that were missed. */
@Injectable()
export class ReportRunner implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('reports');
  private timer: NodeJS.Timeout | undefined;
  private running: Promise<unknown> = Promise.resolve();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly lines: ReportLines,
    private readonly outgoing: OutgoingService,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void this.sweep(new Date()).catch(() => undefined), SWEEP_MS).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    await this.running.catch(() => undefined);
  }

  /** Runs everything that is due at `now`, one report behind the other. */
  sweep(now: Date): Promise<void> {
    const next = this.running.then(() => this.runDue(now));
    this.running = next.catch(() => undefined);
    return next;
  }

  /** Runs a report now, whatever its schedule says; its next planned run stays. */
  async runNow(id: string, now = new Date()): Promise<string> {
    const report = await this.manager.findOneBy(ReportEntity, { id });
    if (!report) throw new AppError('not-found', 'There is no such report.');
    return this.write(report, { planned: now, now, missed: 0, nextAt: report.nextAt });
  }

  private async runDue(now: Date): Promise<void> {
    const due = await this.manager.find(ReportEntity, {
      where: { active: true, nextAt: LessThanOrEqual(now) },
      order: { nextAt: 'ASC' },
    });
    for (const report of due) {
      try {
        await this.runOne(report, now);
      } catch (error) {
        // Somebody must look at this one; the others run.
        this.log.error(`A report could not be written: ${error instanceof Error ? error.name : 'unknown'}`);
        await this.postpone(report, now);
      }
    }
  }

  private async runOne(report: ReportEntity, now: Date): Promise<void> {
    const owner = await this.manager.findOneBy(AccountEntity, { id: report.owner });
    // Of somebody who left: it rests, with its runs, until somebody takes it over.
    if (!owner || owner.disabledAt) return this.postpone(report, now);
    const planned = runsBetween(
      report.definition.schedule,
      (report.nextAt?.getTime() ?? 0) - 1,
      now.getTime(),
    );
    const last = planned.at(-1) ?? now.getTime();
    const next = nextRun(report.definition.schedule, now.getTime());
    await this.write(report, {
      planned: new Date(last),
      now,
      missed: Math.max(0, planned.length - 1),
      nextAt: next === null ? null : new Date(next),
    });
  }

  private async postpone({ id, definition }: ReportEntity, now: Date): Promise<void> {
    const next = nextRun(definition.schedule, now.getTime());
    await this.manager.update(ReportEntity, { id }, { nextAt: next === null ? null : new Date(next) });
  }

  /** Computes a run, and in one transaction keeps it, plans the next one and queues its mails. */
  private async write(
    report: ReportEntity,
    { planned, now, missed, nextAt }: { planned: Date; now: Date; missed: number; nextAt: Date | null },
  ): Promise<string> {
    const { definition } = report;
    const to = planned.getTime();
    const period = { from: to - definition.days * DAY_MS, to };
    const lines = await this.lines.lines(definition, period, definition.schedule.zone);
    const [before] = await this.manager.find(ReportRunEntity, {
      where: { reportId: report.id },
      order: { at: 'DESC' },
      take: 1,
    });
    const compared = differenceOf(
      lines,
      before ? before.content.filter(({ change }) => change !== 'gone') : null,
    );
    const mails = await this.mails(report, compared, { ...period, missed });
    const id = randomUUID();
    await this.manager.transaction(async (manager) => {
      if (nextAt !== report.nextAt) {
        const as = { id: report.id, nextAt: report.nextAt ?? IsNull() };
        // Nothing is written twice where another process ran it meanwhile.
        if (!(await manager.update(ReportEntity, as, { nextAt })).affected) return;
      }
      await manager.insert(ReportRunEntity, {
        ...{ id, reportId: report.id, plannedAt: planned, at: now, missed, content: compared },
        fromAt: new Date(period.from),
        toAt: new Date(period.to),
        mails: Object.fromEntries(mails.map(({ recipients: [address = ''], id: mail }) => [address, mail])),
      });
      for (const mail of mails) await this.outgoing.queue(manager, mail);
    });
    await this.forgetOld(report.id);
    return id;
  }

  /** One mail an address, so that what becomes of each is known. */
  private mails(
    { name, definition }: ReportEntity,
    lines: readonly ComparedLine[],
    { from, to, missed }: { readonly from: number; readonly to: number; readonly missed: number },
  ) {
    const written: WrittenReport = {
      ...{ name, missed, lines, address: this.config.address },
      ...{ from: new Date(from), to: new Date(to) },
    };
    return Promise.all(
      definition.to.map(async (address) =>
        this.outgoing.sealed({
          // Without a sender (RFC 5321, 4.5.5) nothing that fails comes back, and no program answers.
          ...{ sender: '', recipients: [address], treatments: [] },
          raw: await composed(address, written),
        }),
      ),
    );
  }

  private async forgetOld(reportId: string): Promise<void> {
    const old = await this.manager.find(ReportRunEntity, {
      where: { reportId },
      order: { at: 'DESC' },
      skip: KEPT_RUNS,
      take: KEPT_RUNS,
      select: { id: true },
    });
    for (const { id } of old) await this.manager.delete(ReportRunEntity, { id });
  }
}

/** The mail: differences as text, everything as a page and as a table. */
function composed(to: string, report: WrittenReport): Promise<Buffer> {
  const fileName = report.name.replace(/[^\p{L}\p{N} ._-]+/gu, '-').slice(0, 80);
  return new Promise((resolve, reject) =>
    new MailComposer({
      ...{
        from: SYSTEM_SENDER,
        to,
        subject: report.name,
        text: reportText(report),
        html: reportPage(report),
      },
      // RFC 3834: made by a program, which nobody answers by another.
      headers: { 'Auto-Submitted': 'auto-generated' },
      attachments: [
        { filename: `${fileName}.csv`, content: reportTable(report), contentType: 'text/csv; charset=utf-8' },
      ],
    })
      .compile()
      .build((error, message) => (error ? reject(error) : resolve(message))),
  );
}
