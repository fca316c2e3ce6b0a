import {
  type ReportRunDetail,
  type ReportSummary,
  SaveReportRequest,
  ScheduledReportRequest,
  ScheduleRequest,
  type ScheduleView,
} from '@lantern/contracts/insight';
import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { reportPage, reportTable } from './report-page.js';
import { ReportRunner } from './report-runner.service.js';
import { Reports } from './reports.service.js';
import { nextRuns } from '../../platform/schedule.js';

/** Runs of a schedule that are shown while it is written. */
const SHOWN_RUNS = 4;

/** Views on a schedule, kept and sent with what differs from the last time. */
@ApiTags('insight')
@Controller('insight/reports')
export class ReportsController {
  constructor(
    private readonly reports: Reports,
    private readonly runner: ReportRunner,
  ) {}

  @Get()
  @Permit('incidents.read')
  @Answers('ReportSummary', 'list')
  list(): Promise<ReportSummary[]> {
    return this.reports.list();
  }

  @Post()
  @Permit('incidents.route')
  @Answers('ReportSummary', 'list')
  create(@Body() request: ScheduledReportRequest, @CallerOf() caller: Caller): Promise<ReportSummary[]> {
    return this.reports.save(null, request, caller);
  }

  /** When a schedule would run next. */
  @Post('schedule')
  @HttpCode(200)
  @Permit('incidents.route')
  @Answers('ScheduleView')
  schedule(@Body() request: ScheduleRequest): ScheduleView {
    const next = nextRuns(request, Date.now(), SHOWN_RUNS);
    return { next: next.map((at) => new Date(at).toISOString()) };
  }

  @Put(':id')
  @Permit('incidents.route')
  @Answers('ReportSummary', 'list')
  save(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: SaveReportRequest,
    @CallerOf() caller: Caller,
  ): Promise<ReportSummary[]> {
    return this.reports.save(id, request, caller);
  }

  @Delete(':id')
  @Permit('incidents.route')
  @Answers('ReportSummary', 'list')
  remove(@Param('id', ParseUUIDPipe) id: string): Promise<ReportSummary[]> {
    return this.reports.remove(id);
  }

  /** Writes and sends a report now. */
  @Post(':id/runs')
  @Permit('incidents.route')
  @Answers('ReportRunDetail')
  async runNow(@Param('id', ParseUUIDPipe) id: string): Promise<ReportRunDetail> {
    return this.reports.run(await this.runner.runNow(id));
  }

  @Get('runs/:run')
  @Permit('incidents.read')
  @Answers('ReportRunDetail')
  run(@Param('run', ParseUUIDPipe) run: string): Promise<ReportRunDetail> {
    return this.reports.run(run);
  }

  /** A run as a page that prints and reads alone. */
  @Get('runs/:run/page')
  @Header('content-type', 'text/html; charset=utf-8')
  @Header('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'; sandbox allow-popups")
  @Permit('incidents.read')
  async page(@Param('run', ParseUUIDPipe) run: string): Promise<string> {
    return reportPage(await this.reports.written(run));
  }

  /** A run as a table, safe to open in a spreadsheet. */
  @Get('runs/:run/table')
  @Header('content-type', 'text/csv; charset=utf-8')
  @Header('content-disposition', 'attachment; filename="report.csv"')
  @Permit('incidents.read')
  async table(@Param('run', ParseUUIDPipe) run: string): Promise<string> {
    return reportTable(await this.reports.written(run));
  }
}
