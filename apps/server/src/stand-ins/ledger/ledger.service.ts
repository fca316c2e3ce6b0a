import {
  type LedgerAnswer,
  type LedgerDashboardView,
  type LedgerDeedView,
  type LedgerExportRequest,
  type LedgerFacts,
  type LedgerQuery,
  type LedgerRecords,
  type LedgerRecordView,
  type LedgerReportView,
  type LedgerSignInRequest,
  type LedgerView,
} from '@lantern/contracts';
import type { Label } from '@lantern/core/labels';
import type { SignIn, UseWay } from '@lantern/core/movement';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import { MachinesService } from '../../directory/machines/machines.service.js';
import type { Player } from '../../directory/people.service.js';
import { FileWork } from '../../inspection/file-work.service.js';
import { Trusts } from '../../movements/proof/trusts.service.js';
import { carried, labelToWrite } from '../../labels/carried-label.js';
import { AppError } from '../../platform/errors/app-error.js';
import { labelsOf } from '../../published/published-labels.js';
import { PublishedRevision } from '../../published/published-revision.js';
import {
  CONNECTABLE,
  LEDGER_OBJECTS,
  LEDGER_REPORTS,
  type LedgerObject,
  type LedgerReport,
  type LedgerTable,
  reportTable,
  tableOf,
} from './ledger-data.js';
import { LedgerDeeds, type LedgerDoing } from './ledger-deeds.service.js';
import { LedgerDeedEntity, LedgerReportEntity } from './ledger.entity.js';
import { LedgerKeys } from './ledger-keys.service.js';

/** Records of a list that are shown at once. */
const SHOWN = 50;
/** Records that one question to the interface gives at most, where it does not say. */
const USUAL_LIMIT = 100;
/** What a connected application fetches at once. */
const FETCHED = 500;
/** Records of an open-ended export that are asked about together: an export goes so far at most past a limit. */
const STREAMED = 500;

/** The booking and freight ledger: lists, records, exports, an interface for programs, and connected applications. */
@Injectable()
export class Ledger {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly deeds: LedgerDeeds,
    private readonly keys: LedgerKeys,
    private readonly files: FileWork,
    private readonly machines: MachinesService,
    private readonly published: PublishedRevision,
    private readonly trusts: Trusts,
  ) {}

  async view(player: Player): Promise<LedgerView> {
    const held = await this.deeds.signIn(player);
    const [signIn] = held ? await this.deeds.views([held]) : [];
    const connected = await this.manager.findBy(LedgerDeedEntity, {
      ...{ person: player.address, deed: 'connect', state: 'went-on', endedAt: IsNull() },
    });
    return {
      signIn: signIn ?? null,
      reports: await Promise.all(LEDGER_REPORTS.map((report) => this.reportView(report))),
      deeds: await this.deeds.list(player),
      keys: await this.keys.of(player),
      connectable: CONNECTABLE.map(({ id, name, host, rights }) => ({
        ...{ id, name, host, rights },
        connected: connected.find(({ facts }) => facts.application === id)?.id ?? null,
      })),
      trusts: (await this.trusts.list(player.address)).filter(({ holds }) => holds),
    };
  }

  /** Signs the person in. A sign-in is a movement, so rules can ask for a second factor or refuse it. */
  async signIn(player: Player, { country, proof, atWork }: LedgerSignInRequest): Promise<LedgerDeedView> {
    const own = atWork ? await this.machines.ofPerson(player.address) : undefined;
    const machine = own ?? { name: 'own machine', state: 'strange' as const, groups: [] };
    return this.deeds.do({
      player,
      use: { deed: 'sign-in', by: 'screen', objects: [], signIn: { at: Date.now(), country, proof } },
      facts: {
        ...{ title: 'Sign-in', objects: [] },
        signIn: { country, proof, machine: machine.name },
      },
      machine,
      network: atWork ? 'trusted' : 'foreign',
    });
  }

  /** A page of a list: enough of each record to find it. */
  records(name: string, { search = '', from = 0 }: LedgerQuery): LedgerRecords {
    const { rows } = tableOf(objectOf(name));
    const wanted = search.trim().toLowerCase();
    const found =
      wanted === ''
        ? rows
        : rows.filter((row) => row.slice(0, 3).some((cell) => cell.toLowerCase().includes(wanted)));
    return {
      total: found.length,
      rows: found.slice(from, from + SHOWN).map((row) => ({ id: row[0] ?? '', name: row[2] ?? '' })),
    };
  }

  /** Opening a record is a movement of its own. */
  async open(player: Player, name: string, id: string): Promise<LedgerRecordView> {
    const signIn = await this.demandSignIn(player);
    const object = objectOf(name);
    const { fields, rows } = tableOf(object);
    const row = rows.find(([first]) => first === id);
    if (!row) throw new AppError('not-found', 'There is no such record.');
    const shown = fields.map((field, at) => ({ name: field, value: row[at] ?? '' }));
    const deed = await this.deeds.do({
      player,
      use: { deed: 'read', by: 'screen', objects: [object], rows: 1, columns: fields, signIn },
      facts: { title: id, objects: [object], rows: 1, columns: fields },
      texts: [shown.map(({ name: field, value }) => `${field}: ${value}`).join('\n')],
      ...(await this.machineOf(player)),
    });
    return { deed, fields: deed.state === 'went-on' ? shown : null };
  }

  /** A record that waited, once it went on. */
  async opened(player: Player, id: string): Promise<LedgerRecordView> {
    const deed = await this.deeds.view(id, player);
    const [object] = deed.facts.objects;
    if (deed.deed !== 'read' || deed.by !== 'screen' || object === undefined)
      throw new AppError('not-found', 'There is no such record.');
    if (deed.state !== 'went-on') return { deed, fields: null };
    const { fields, rows } = tableOf(objectOf(object));
    const row = rows.find(([first]) => first === deed.facts.title) ?? [];
    return { deed, fields: fields.map((field, at) => ({ name: field, value: row[at] ?? '' })) };
  }

  /** Opening a dashboard is a movement: it takes what it adds up, under the label of the dashboard. */
  async openDashboard(player: Player, id: string): Promise<LedgerDashboardView> {
    const signIn = await this.demandSignIn(player);
    const report = LEDGER_REPORTS.find((each) => each.id === id && each.sums);
    if (!report) throw new AppError('not-found', 'There is no such dashboard.');
    const { fields, rows } = reportTable(report);
    const { name, objects } = report;
    const deed = await this.deeds.do({
      player,
      use: {
        ...{ deed: 'read', by: 'screen', report: name, objects },
        ...{ rows: rows.length, columns: fields, signIn },
      },
      facts: { title: name, report: id, objects, rows: rows.length, columns: fields },
      texts: [[fields, ...rows].map((cells) => cells.join('\t')).join('\n')],
      ...inheriting(await this.labelOf(id), name),
      result: Buffer.from(JSON.stringify(rows)),
      ...(await this.machineOf(player)),
    });
    return { deed, fields, rows: deed.state === 'went-on' ? rows : null };
  }

  /** A dashboard that waited, once it went on. */
  async openedDashboard(player: Player, id: string): Promise<LedgerDashboardView> {
    const deed = await this.deeds.view(id, player);
    const report = LEDGER_REPORTS.find((each) => each.id === deed.facts.report && each.sums);
    if (deed.deed !== 'read' || !report) throw new AppError('not-found', 'There is no such dashboard.');
    if (deed.state !== 'went-on') return { deed, fields: report.fields, rows: null };
    const { bytes } = await this.deeds.result(id, player);
    return { deed, fields: report.fields, rows: JSON.parse(bytes.toString('utf8')) as string[][] };
  }

  /** Creates the file, submits it as a movement, and keeps it until it is allowed. */
  async export(player: Player, request: LedgerExportRequest, by: UseWay = 'screen'): Promise<LedgerDeedView> {
    const signIn = by === 'screen' ? await this.demandSignIn(player) : keySignIn();
    const report = LEDGER_REPORTS.find(({ id }) => id === request.report);
    if (!report) throw new AppError('not-found', 'There is no such report.');
    const table = cutTo(reportTable(report), request);
    const standing = await this.labelOf(report.id);
    const name = `${report.name}.${request.format}`;
    const bytes = await this.files.writeTable(request.format, report.name, table);
    const file = standing ? await this.labelled({ name, bytes }, standing) : { name, bytes };
    return this.deeds.do({
      ...{ player, file, result: file.bytes },
      ...inheriting(standing, report.name),
      use: {
        ...{ deed: 'export', by, report: report.name, objects: report.objects },
        ...{ rows: table.rows.length, columns: table.fields, signIn },
      },
      facts: {
        ...{ title: report.name, report: report.id, objects: report.objects },
        ...{ rows: table.rows.length, columns: table.fields },
        file: { name, bytes: file.bytes.length },
      },
      ...(by === 'screen' ? await this.machineOf(player) : {}),
    });
  }

  /** Reads records over the interface, under the same rules as on the screen. */
  async query(
    player: Player,
    name: string,
    { from = 0, limit = USUAL_LIMIT }: LedgerQuery,
  ): Promise<LedgerDeedView> {
    const object = objectOf(name);
    const { fields, rows } = tableOf(object);
    return this.read({ player, object, rows: rows.slice(from, from + limit), fields }, keySignIn());
  }

  /**
   * An export whose size nobody knows beforehand: batch by batch, each a movement that counts with those before it. It
   * ends with the last record, or with the first batch that does not go on; what was given until then stays given.
   */
  async *stream(
    player: Player,
    name: string,
    from = 0,
  ): AsyncGenerator<
    | { readonly fields: readonly string[]; readonly rows: LedgerTable['rows'] }
    | { readonly cut: LedgerDeedView }
  > {
    const object = objectOf(name);
    const { fields, rows } = tableOf(object);
    for (let at = from; at < rows.length; at += STREAMED) {
      const batch = rows.slice(at, at + STREAMED);
      const deed = await this.read({ player, object, rows: batch, fields, before: at - from }, keySignIn());
      if (deed.state !== 'went-on') {
        yield { cut: deed };
        return;
      }
      yield { fields, rows: batch };
    }
  }

  async connect(player: Player, id: string): Promise<LedgerDeedView> {
    const signIn = await this.demandSignIn(player);
    const application = CONNECTABLE.find((each) => each.id === id);
    if (!application) throw new AppError('not-found', 'There is no such application.');
    const { name, host, rights } = application;
    return this.deeds.do({
      player,
      use: { deed: 'connect', by: 'screen', objects: [], rights, signIn },
      facts: { title: name, objects: [], application: id, rights },
      into: [{ kind: 'host', host }],
      ...(await this.machineOf(player)),
    });
  }

  /** What a connected application does by itself: it fetches what it asked for. One that was cut off gets nothing. */
  async fetchBy(player: Player, connection: string): Promise<LedgerDeedView> {
    const connected = await this.deeds.own(connection, player);
    if (connected.deed !== 'connect' || connected.state !== 'went-on' || connected.endedAt !== null)
      throw new AppError('act-refused', 'This application is not connected, so it receives no data.');
    const application = CONNECTABLE.find(({ id }) => id === connected.facts.application);
    if (!application) throw new AppError('not-found', 'There is no such application.');
    const { takes, host } = application;
    const { fields, rows } = tableOf(takes);
    return this.read({ player, object: takes, rows: rows.slice(0, FETCHED), fields, host }, keySignIn());
  }

  /** State of a request by a program, with its records once it is allowed. */
  async answer(player: Player, id: string): Promise<LedgerAnswer> {
    const view = await this.deeds.view(id, player);
    const { state, notice } = view;
    const gives = state === 'went-on' && view.deed === 'read' && view.by === 'interface';
    const result = gives ? (await this.deeds.result(id, player)).bytes : null;
    return {
      ...{ id, state, message: notice?.text ?? '' },
      until: state === 'waiting' ? (notice?.proof?.until ?? notice?.ask?.until ?? null) : null,
      fields: view.facts.columns ?? [],
      rows: result ? (JSON.parse(result.toString('utf8')) as string[][]) : [],
    };
  }

  /** Sets the label of a report; later exports inherit it. The person must be signed in. */
  async labelReport(player: Player, id: string, wanted: string): Promise<LedgerReportView> {
    await this.demandSignIn(player);
    const report = LEDGER_REPORTS.find((each) => each.id === id);
    if (!report) throw new AppError('not-found', 'There is no such report.');
    const label = labelsOf(this.published.current?.document).labels.find(
      (each) => String(each.id) === wanted,
    );
    if (wanted !== '' && !label) throw new AppError('not-found', 'There is no such label.');
    if (label)
      await this.manager.save(LedgerReportEntity, {
        ...{ id, label: String(label.id), labelName: label.name, rank: label.rank },
        ...{ setBy: player.address, setAt: new Date() },
      });
    else await this.manager.delete(LedgerReportEntity, { id });
    return this.reportView(report);
  }

  private async read(
    given: {
      readonly player: Player;
      readonly object: LedgerObject;
      readonly rows: LedgerTable['rows'];
      readonly fields: readonly string[];
      readonly host?: string;
      readonly before?: number;
    },
    signIn: SignIn,
  ): Promise<LedgerDeedView> {
    const { player, object, rows, fields, host, before } = given;
    const facts: LedgerFacts = { title: object, objects: [object], rows: rows.length, columns: fields };
    const lines = [fields, ...rows].map((cells) => cells.join('\t'));
    return this.deeds.do({
      ...{ player, facts, texts: [lines.join('\n')], result: Buffer.from(JSON.stringify(rows)) },
      use: {
        ...{ deed: before === undefined ? 'read' : 'export', by: 'interface', objects: [object] },
        ...(before === undefined ? {} : { before }),
        ...{ rows: rows.length, columns: fields, signIn },
      },
      ...(host ? { into: [{ kind: 'host', host }] } : {}),
    });
  }

  private async demandSignIn(player: Player): Promise<SignIn> {
    const held = await this.deeds.signIn(player);
    const signIn = held?.facts.signIn;
    if (!held || !signIn) throw new AppError('act-refused', 'Sign in to the ledger first.');
    return { at: held.at.getTime(), country: signIn.country, proof: signIn.proof };
  }

  /** The machine of the sign-in that holds. */
  private async machineOf(player: Player) {
    const name = (await this.deeds.signIn(player))?.facts.signIn?.machine;
    if (name === undefined) return {};
    const machine = await this.machines.machine(name);
    return { machine, network: machine.state === 'strange' ? ('foreign' as const) : ('trusted' as const) };
  }

  private async reportView(report: LedgerReport): Promise<LedgerReportView> {
    const label = await this.manager.findOneBy(LedgerReportEntity, { id: report.id });
    const { sums: _sums, ...shown } = report;
    return {
      ...shown,
      kind: report.sums ? 'dashboard' : 'report',
      rows: reportTable(report).rows.length,
      label: label && { id: label.label, name: label.labelName },
    };
  }

  private async labelOf(report: string): Promise<StandingReport | null> {
    const found = await this.manager.findOneBy(LedgerReportEntity, { id: report });
    if (!found) return null;
    const labels = labelsOf(this.published.current?.document).labels;
    const label = labels.find(({ id }) => String(id) === found.label);
    return label ? { label, by: found.setBy, at: found.setAt } : null;
  }

  /** The file with its label in it, where its format can carry one. */
  private async labelled(
    file: { readonly name: string; readonly bytes: Uint8Array },
    { label, by, at }: StandingReport,
  ): Promise<{ readonly name: string; readonly bytes: Uint8Array }> {
    const written = await this.files.writeLabel(
      file,
      labelToWrite(carried(label, 'by-hand', by, at), by, label),
    );
    return written.status === 'written' ? { name: file.name, bytes: written.bytes } : file;
  }
}

interface StandingReport {
  readonly label: Label;
  readonly by: string;
  readonly at: Date;
}

/** What is taken from a labelled report inherits its label, also where the format has no room for one. */
function inheriting(standing: StandingReport | null, item: string): Pick<LedgerDoing, 'label' | 'handles'> {
  if (!standing) return { label: null, handles: [] };
  const { label, by, at } = standing;
  return { label, handles: [{ label: String(label.id), item, named: {}, owner: by, since: at.getTime() }] };
}

function objectOf(name: string): LedgerObject {
  const object = LEDGER_OBJECTS.find((each) => each === name);
  if (!object) throw new AppError('not-found', 'There are no such records.');
  return object;
}

/** Sign-in of a program: its key, at the time of each request. */
const keySignIn = (): SignIn => ({ at: Date.now(), proof: 'key' });

function cutTo(table: LedgerTable, { fields, rows }: LedgerExportRequest): LedgerTable {
  const wanted = fields ?? table.fields;
  const at = wanted.map((field) => table.fields.indexOf(field));
  if (wanted.length === 0 || at.includes(-1))
    throw new AppError('invalid-request', 'fields must name fields of the report, one or more.');
  return {
    fields: wanted,
    rows: table.rows.slice(0, rows ?? table.rows.length).map((row) => at.map((index) => row[index] ?? '')),
  };
}
