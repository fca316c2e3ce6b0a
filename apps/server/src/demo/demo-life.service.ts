import { PLACES, POLICIES, STARTER_LABELS } from '@lantern/demo';
import type { Policy } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, LessThan, Not } from 'typeorm';
import { PersonEntity } from '../directory/person.entity.js';
import type { Player } from '../directory/people.service.js';
import { AgentsService } from '../doors/agents/agents.service.js';
import { IncidentEntity } from '../incidents/incident.entity.js';
import { ReportRunner } from '../insight/reports/report-runner.service.js';
import { Reports } from '../insight/reports/reports.service.js';
import { IncidentsService } from '../incidents/incidents.service.js';
import { DeskViews } from '../incidents/views/desk-views.service.js';
import { Routing } from '../response/routing/routing.service.js';
import { LabelRunsService } from '../labels/runs/label-runs.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { PendingList } from '../movements/pending/pending-list.service.js';
import { PendingService } from '../movements/pending/pending.service.js';
import { PoliciesService } from '../policies/policies.service.js';
import { ReplayService } from '../replay/replay.service.js';
import { PlaceEntity } from '../directory/place.entity.js';
import { DriveActs } from '../stand-ins/drive/drive-acts.service.js';
import { DriveFiles } from '../stand-ins/drive/drive-files.service.js';
import { DriveShares } from '../stand-ins/drive/drive-shares.service.js';
import { DrivePlaces } from '../stand-ins/drive/places/drive-places.service.js';
import { MailWindow, type SentMail } from '../stand-ins/mail/mail-window.service.js';

const DAY_MS = 24 * 3_600_000;
/** A job is looked at so often while the demo loads. */
const LOOK_EVERY_MS = 200;
/** People whose mail was blocked and who ask for an override, with their reasons. */
const REQUESTS = [
  'The customs broker needs the list before the ferry leaves at noon',
  'The travel agency cannot open the portal and refunds these guests today',
  'Agreed with the harbour office by phone this morning',
];

/** A blocked mail of the last days whose sender may ask for an override. */
export interface BlockedMail {
  readonly person: PersonEntity;
  readonly sent: SentMail;
}

/** What a team leaves behind in a few weeks: requests, agents, decisions, a draft, a replay and a preview of labels. */
@Injectable()
export class DemoLife {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly views: DeskViews,
    private readonly routing: Routing,
    private readonly agents: AgentsService,
    private readonly incidents: IncidentsService,
    private readonly mail: MailWindow,
    private readonly policies: PoliciesService,
    private readonly replays: ReplayService,
    private readonly runs: LabelRunsService,
    private readonly places: DrivePlaces,
    private readonly shares: DriveShares,
    private readonly driveActs: DriveActs,
    private readonly driveFiles: DriveFiles,
    private readonly reports: Reports,
    private readonly reportRunner: ReportRunner,
    private readonly pending: PendingService,
    private readonly pendingList: PendingList,
  ) {}

  /** One more request, which an approver allows for two weeks: it stands from then on. */
  private async allowForATime(mail: BlockedMail | undefined, approver: Caller): Promise<void> {
    if (!mail) return;
    await this.mail.askOverride(mail.person, mail.sent.messageId, 'The broker gets the same list every week');
    const waiting = (await this.pendingList.list(approver)).find(
      ({ state, kind, person }) =>
        state === 'waiting' && kind === 'override' && person.address === mail.person.address,
    );
    if (!waiting) return;
    const words = 'Agreed until the portal of the broker is back';
    await this.pending.decide(
      waiting.id,
      { goesOn: true, words, standing: { days: 14, to: waiting.destinations } },
      approver,
    );
  }

  async load(
    blocked: readonly BlockedMail[],
    author: Caller,
    second: Caller,
    approver: Caller,
  ): Promise<void> {
    const partner = blocked
      .slice(0, -REQUESTS.length)
      .findLast(({ sent }) => !sent.notice?.outside.some((address) => address.startsWith('private')));
    await this.allowForATime(partner, approver);
    for (const [index, words] of REQUESTS.entries()) {
      const mail = blocked.at(-1 - index);
      if (mail) await this.mail.askOverride(mail.person, mail.sent.messageId, words);
    }
    for (const name of ['Scanner of the crane yard', 'Booking system export'])
      await this.agents.create({ name }, author);
    await this.decideSome(author, second);
    await this.openPlaces();
    await this.draftOf(second);
    const replay = await this.replays.start(
      { since: new Date(Date.now() - 14 * DAY_MS).toISOString(), until: new Date().toISOString() },
      second,
    );
    const preview = await this.runs.start(
      { does: 'look', places: PLACES.slice(2, 4).map(({ id }) => id), rules: [] },
      author,
    );
    await ended(async () => (await this.replays.get(replay.id)).state);
    await ended(async () => (await this.runs.get(preview.id)).state);
  }

  /** What a team has set up at its desk: views that are shared, one that opens first, and a rule that is not on yet. */
  async loadDesk(author: Caller): Promise<void> {
    const state = { listed: 'incidents' as const, density: 'compact' as const, group: [] };
    const open = 'status ne "decided"';
    const views = [
      { name: 'Due first', state: { ...state, filter: open, order: 'due' as const } },
      {
        name: 'Critical and overdue',
        state: {
          ...state,
          filter: `${open} and overdue eq true and severity ge "high"`,
          order: '-urgency' as const,
        },
      },
      {
        name: 'By policy and department',
        state: {
          ...state,
          filter: open,
          order: '-urgency' as const,
          group: ['policy' as const, 'department' as const],
        },
      },
      {
        name: 'Overrides of refund lists',
        state: {
          ...state,
          filter: 'override pr and department eq "Passenger Services"',
          order: '-time' as const,
        },
      },
    ];
    for (const view of views) await this.views.save(null, { ...view, shared: true }, author);
    await this.routing.save(
      null,
      {
        name: 'Treasury to the second line',
        filter: 'department eq "Treasury" and severity ge "medium"',
        assign: 'tobias.lund@merrowstrait.example',
        ...{ test: false, tell: [], active: false, watch: false },
      },
      author,
    );
  }

  /** A report with two Mondays behind it. */
  async loadReports(author: Caller): Promise<void> {
    const saved = await this.reports.save(
      null,
      {
        ...{ name: 'Monday: what changed', view: 'changes', days: 7, listed: 'incidents', by: 'rule' },
        ...{ filter: '', to: ['data-care@merrowstrait.example'], active: true },
        schedule: { rule: 'FREQ=WEEKLY;BYDAY=MO', time: '08:00', zone: 'Europe/London' },
      },
      author,
    );
    const [report] = saved;
    if (!report?.next) return;
    for (const weeksAgo of [2, 1])
      await this.reportRunner.runNow(report.id, new Date(Date.parse(report.next) - weeksAgo * 7 * DAY_MS));
  }

  /** Every fourth incident of the older weeks is decided, by two analysts; one in five was a false positive. */
  private async decideSome(...analysts: readonly [Caller, Caller]): Promise<void> {
    const old = await this.manager.find(IncidentEntity, {
      // Critical ones were decided in their time.
      where: { at: LessThan(new Date(Date.now() - 12 * DAY_MS)), status: 'new', severity: Not('critical') },
      order: { number: 'ASC' },
    });
    for (const [index, incident] of old.filter((_each, place) => place % 4 === 0).entries()) {
      const analyst = analysts[index % 3 === 0 ? 1 : 0];
      const at = new Date(incident.at.getTime() + 3 * 3_600_000);
      const falsePositive = index % 5 === 3;
      await this.incidents.act(
        incident.number,
        { act: 'answer-looked-for', yes: !falsePositive, version: incident.version },
        analyst,
        at,
      );
      if (falsePositive) continue;
      await this.incidents.act(
        incident.number,
        { act: 'answer-all-right', yes: incident.severity === 'low', version: incident.version + 1 },
        analyst,
        at,
      );
    }
  }

  /** Owners let two colleagues in, and a timetable went out by a link. */
  private async openPlaces(): Promise<void> {
    const timetables = PLACES.find(({ name }) => name === 'Timetables');
    const people = await this.manager.find(PersonEntity);
    const owner = people.find(({ address }) => address === timetables?.owner);
    if (!timetables || !owner) return;
    const player = { person: owner, name: owner.name, address: owner.address, outside: false };
    for (const place of PLACES)
      await this.manager.update(
        PlaceEntity,
        { id: place.id },
        {
          members: membersOf(
            people,
            people.find(({ address }) => address === place.owner),
          ),
        },
      );
    const path = await this.firstFile(timetables.id, '', player);
    if (path === null) return;
    const file = await this.places.file(timetables.id, path, player);
    const [open] = STARTER_LABELS.labels;
    if (!file.label && open) await this.driveActs.label(file.id, player, { label: open.id, reason: '' });
    await this.shares.share(await this.driveFiles.get(file.id), { link: 'whoever-holds-it' }, player);
  }

  private async firstFile(id: string, path: string, player: Player): Promise<string | null> {
    const { entries } = await this.places.folder(id, path, player);
    const first = entries.find(({ kind, bytes }) => kind === 'folder' || bytes > 0);
    if (!first) return null;
    const at = `${path}/${first.name}`.replace(/^\//u, '');
    return first.kind === 'file' ? at : this.firstFile(id, at, player);
  }

  /** A second author wants mails with many account numbers to be held, and has not published it yet. */
  private async draftOf(author: Caller): Promise<void> {
    const found = POLICIES.find(({ rules }) => rules.some(({ name }) => name === BULK));
    if (!found) return;
    const { policy, version } = await this.policies.get(found.id, author);
    await this.policies.save(found.id, { policy: withHold(policy), version }, author);
  }
}

/** Colleagues of a department whom the owner of a place let in. */
const MEMBERS = 2;

function membersOf(people: readonly PersonEntity[], owner: PersonEntity | undefined): string[] {
  return people
    .filter(({ id, department }) => id !== owner?.id && department === owner?.department)
    .slice(0, MEMBERS)
    .map(({ address }) => address);
}

/** The rule of the demo that notes account numbers until now. */
const BULK = 'Account numbers in bulk';

function withHold({ id: _id, ...policy }: Policy): Omit<Policy, 'id'> {
  const text =
    policy.rules.flatMap(({ bands }) => bands.map((band) => band.text)).find((id) => id !== null) ?? null;
  const rules = policy.rules.map((rule) =>
    rule.name === BULK
      ? {
          ...rule,
          bands: rule.bands.map((band) => ({
            ...band,
            answer: 'hold' as const,
            severity: 'medium' as const,
            text,
          })),
        }
      : rule,
  );
  return { ...policy, rules };
}

/** Waits until a job is over, however it ends. */
async function ended(state: () => Promise<string>): Promise<void> {
  while (['waiting', 'running'].includes(await state()))
    await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
}
