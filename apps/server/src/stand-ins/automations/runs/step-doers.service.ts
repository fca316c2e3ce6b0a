import { randomUUID } from 'node:crypto';
import type { LedgerDeedView } from '@lantern/contracts';
import { type FlowStep, readAddress } from '@lantern/core/automations';
import { decodeText } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { MachinesService } from '../../../directory/machines/machines.service.js';
import { PeopleService, type Player } from '../../../directory/people.service.js';
import { SubmissionEntity } from '../../../movements/submission.entity.js';
import { AppError } from '../../../platform/errors/app-error.js';
import { DriveFileEntity, DriveShareEntity } from '../../drive/drive.entity.js';
import { DriveFiles } from '../../drive/drive-files.service.js';
import { DriveShares } from '../../drive/drive-shares.service.js';
import { Ledger } from '../../ledger/ledger.service.js';
import { LEDGER_OBJECTS, LEDGER_REPORTS } from '../../ledger/ledger-data.js';
import { LedgerDeeds } from '../../ledger/ledger-deeds.service.js';
import { LedgerDeedEntity } from '../../ledger/ledger.entity.js';
import { MailboxService } from '../../mail/mailbox.service.js';
import { MailWindow } from '../../mail/mail-window.service.js';
import { ChatService } from '../../posts/chat.service.js';
import { LEDGER_NAME, NOTE_WAY, NOTES } from '../../posts/ledger-notes.js';
import { PostEntity } from '../../posts/post.entity.js';
import { PostsService, type Way } from '../../posts/posts.service.js';
import { RoomEntity } from '../../posts/room.entity.js';
import type { KeptStep } from './flow-run.entity.js';

/** What steps hand on: a text, and files in base 64. */
export interface Carried {
  /** Names, as rules know them, of the applications that it was read out of. */
  readonly from: readonly string[];
  readonly text: string;
  readonly files: readonly { readonly name: string; readonly base64: string }[];
}

/** A step that was carried out, as far as its movement went. */
export interface StepOutcome extends Pick<KeptStep, 'state' | 'words' | 'submission' | 'incident' | 'deed'> {
  readonly gives: Carried | null;
}

interface Doing {
  readonly step: FlowStep;
  readonly player: Player;
  readonly given: Carried;
  /** Name of the flow: what it sends says from where it comes. */
  readonly flow: string;
}

/** Mails, posts and people that one step reads; a page of each. */
const READ_AT_ONCE = 20;
/** Folder of the drive into which flows of one person write: names in a folder are taken once. */
const sheetsOf = ({ address }: Player): string => `/Sheets of flows/${address}`;
/** Addresses under which the open pages of the demo stand. */
const OPEN_PAGES: Readonly<Record<string, { readonly host: string; readonly name: string }>> = {
  site: { host: 'www.merrowstrait.example', name: 'the public site' },
  poster: { host: 'poster.quayside.example', name: 'the social poster' },
  kiosk: { host: 'kiosk.terminal.example', name: 'the terminal kiosk' },
};
const TIDES = ['Merrow Sound', 'Port Fenwick', 'Isle of Carrow'];

export const NOTHING: Carried = { from: [], text: '', files: [] };

/** Carries out steps of flows at the other stand-ins: as the owner of the flow, through the same doors as people. */
@Injectable()
export class StepDoers {
  private readonly doers: Readonly<Record<string, (doing: Doing) => Promise<StepOutcome>>> = {
    'ledger read': (doing) => this.readLedger(doing),
    'ledger export': (doing) => this.exportLedger(doing),
    'ledger write': (doing) =>
      this.put(doing, { window: 'business', place: NOTES, way: NOTE_WAY }, 'Wrote it into the ledger'),
    'crew read': () => this.readCrew(),
    'mail read': (doing) => this.readMail(doing),
    'mail send': (doing) => this.sendMail(doing),
    'chat read': (doing) => this.readChat(doing),
    'chat post': (doing) => this.postToChat(doing),
    'sheets read': (doing) => this.readSheet(doing),
    'sheets write': (doing) => this.writeSheet(doing),
    'sheets publish': (doing) => this.publishSheet(doing),
    'notes read': (doing) => this.readNotes(doing),
    'notes write': (doing) => this.put(doing, OWN_NOTES, 'Wrote it into the notes'),
    'tides read': () => Promise.resolve(tidesOf(new Date())),
    'web call': (doing) => this.call(doing, doing.step.address ?? ''),
    'site publish': (doing) => this.publishPage(doing),
    'poster post': (doing) => this.publishPage(doing),
    'kiosk show': (doing) => this.publishPage(doing),
  };

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
    private readonly ledger: Ledger,
    private readonly deeds: LedgerDeeds,
    private readonly mail: MailWindow,
    private readonly mailboxes: MailboxService,
    private readonly chat: ChatService,
    private readonly posts: PostsService,
    private readonly files: DriveFiles,
    private readonly shares: DriveShares,
  ) {}

  /** What cannot be done says why, and ends the run; nothing is thrown for what a flow asks. */
  async do(doing: Doing): Promise<StepOutcome> {
    const { service, operation } = doing.step;
    const doer = this.doers[`${service} ${operation}`];
    if (!doer)
      return without('not-here', 'No stand-in of this demo carries out this operation. Nothing was done.');
    try {
      return await doer(doing);
    } catch (error) {
      if (error instanceof AppError) return without('failed', error.message);
      throw error;
    }
  }

  /** What a step that waited gives now that its movement went on. */
  async gaveLater({ deed }: Pick<KeptStep, 'deed'>, player: Player): Promise<Carried> {
    return deed === undefined ? NOTHING : this.taken(deed, player);
  }

  private async readLedger({ step, player }: Doing): Promise<StepOutcome> {
    const wanted = step.target?.trim().toLowerCase() || 'bookings';
    const object = LEDGER_OBJECTS.find((each) => each === wanted);
    if (!object)
      throw new AppError(
        'not-found',
        `The ledger has no records "${wanted}". It has ${LEDGER_OBJECTS.join(', ')}.`,
      );
    const deed = await this.ledger.query(player, object, {});
    return this.ofDeed(deed, player, `Read ${deed.facts.rows ?? 0} records of ${object}`);
  }

  private async exportLedger({ step, player }: Doing): Promise<StepOutcome> {
    const wanted = step.target?.trim().toLowerCase() || 'freight';
    const report = LEDGER_REPORTS.find(({ id, name }) => id === wanted || name.toLowerCase() === wanted);
    if (!report) throw new AppError('not-found', `The ledger has no report "${wanted}".`);
    const deed = await this.ledger.export(player, { report: report.id, format: 'csv' }, 'interface');
    return this.ofDeed(deed, player, `Exported "${deed.facts.title}" with ${deed.facts.rows ?? 0} records`);
  }

  private async ofDeed(deed: LedgerDeedView, player: Player, words: string): Promise<StepOutcome> {
    const { submissionId } = await this.manager.findOneByOrFail(LedgerDeedEntity, { id: deed.id });
    const outcome = await this.outcome(submissionId, words);
    return {
      ...outcome,
      deed: deed.id,
      gives: outcome.state === 'done' ? await this.taken(deed.id, player) : null,
    };
  }

  /** The file of an export, or the records that were read as lines. */
  private async taken(id: string, player: Player): Promise<Carried> {
    const { deed, bytes } = await this.deeds.result(id, player);
    const { file, columns = [] } = deed.facts;
    const from = [LEDGER_NAME];
    if (file) return { from, text: '', files: [{ name: file.name, base64: bytes.toString('base64') }] };
    const rows = JSON.parse(bytes.toString('utf8')) as string[][];
    return { from, text: [columns, ...rows].map((cells) => cells.join('\t')).join('\n'), files: [] };
  }

  private async readCrew(): Promise<StepOutcome> {
    const people = await this.people.all();
    const lines = people.slice(0, READ_AT_ONCE).map(({ name, department }) => `${name}\t${department}`);
    return gave(
      'Crew roster',
      ['Name\tDepartment', ...lines].join('\n'),
      `Read the roster of ${lines.length} people`,
    );
  }

  private async readMail({ player }: Doing): Promise<StepOutcome> {
    if (!player.person) return without('failed', 'Its owner has no mailbox.');
    const owner = player.person.id;
    const inbox = (await this.mailboxes.list(owner)).filter(({ folder }) => folder === 'inbox');
    const mails = await Promise.all(
      inbox.slice(0, READ_AT_ONCE).map(({ id }) => this.mailboxes.get(owner, id)),
    );
    const text = mails.map(({ subject, body }) => `${subject}\n${body}`).join('\n\n');
    return gave('Company mail', text, `Read ${mails.length} mails`);
  }

  private async sendMail({ step, player, given, flow }: Doing): Promise<StepOutcome> {
    if (!player.person) return without('failed', 'Its owner has no mailbox.');
    const to = (step.target ?? player.address).split(/[\s,;]+/u).filter((each) => each !== '');
    const sent = await this.mail.send({
      ...{ person: player.person, to, subject: flow, body: given.text, draft: null, at: new Date() },
      files: given.files.map(bytesOf),
    });
    return { ...(await this.outcome(sent.submissionId, `Sent a mail to ${to.join(', ')}`)), gives: NOTHING };
  }

  private async readChat({ step, player }: Doing): Promise<StepOutcome> {
    const room = await this.room(step, player);
    return this.readPosts('chat', room.id, player, `Read the room "${room.name}"`);
  }

  private async postToChat(doing: Doing): Promise<StepOutcome> {
    const room = await this.room(doing.step, doing.player);
    const way = await this.chat.wayOf(room, doing.player);
    return this.put(doing, { window: 'chat', place: room.id, way }, `Posted to the room "${room.name}"`);
  }

  /** The room of the owner that is named, or their first one. */
  private async room({ target = '' }: FlowStep, player: Player): Promise<RoomEntity> {
    const rooms = await this.chat.rooms(player);
    const room =
      target === '' ? rooms[0] : rooms.find(({ name }) => name.toLowerCase() === target.toLowerCase());
    if (!room)
      throw new AppError(
        'not-found',
        target === '' ? 'The owner is in no room.' : `The owner is in no room named "${target}".`,
      );
    return this.chat.room(room.id, player);
  }

  private async readNotes({ player }: Doing): Promise<StepOutcome> {
    return this.readPosts('endpoint', 'notes', player, 'Read the notes');
  }

  private async readPosts(
    window: 'chat' | 'endpoint',
    place: string,
    player: Player,
    words: string,
  ): Promise<StepOutcome> {
    const things = (await this.posts.list(window, place, player)).slice(-READ_AT_ONCE);
    return gave(window === 'chat' ? 'Deck chat' : 'Notes', things.map(({ text }) => text).join('\n'), words);
  }

  private async readSheet({ step, player }: Doing): Promise<StepOutcome> {
    const file = await this.sheet(step, player);
    if (!file) throw new AppError('not-found', `There is no sheet named "${sheetName(step)}".`);
    const bytes = await this.files.bytes(file);
    return gave('Harbour sheets', decodeText(bytes) ?? '', `Read the sheet "${file.name}"`);
  }

  /** Writes into the owner's own drive, which is no movement; sharing the sheet is. */
  private async writeSheet({ step, player, given }: Doing): Promise<StepOutcome> {
    const texts = [given.text, ...given.files.map((file) => decodeText(bytesOf(file).bytes) ?? '')];
    const bytes = Buffer.from(
      texts
        .filter((text) => text !== '')
        .join('\n')
        .replaceAll('\t', ','),
    );
    const known = await this.sheet(step, player);
    // Who has it already gets what is new by the rules of now.
    if (known) await this.shares.follow(await this.files.replace(known, bytes));
    else await this.files.add(player, { folder: sheetsOf(player), name: sheetName(step), bytes });
    return { ...gave('', '', `Wrote the sheet "${sheetName(step)}"`), gives: NOTHING };
  }

  private async publishSheet(doing: Doing): Promise<StepOutcome> {
    const { step, player } = doing;
    const known = await this.sheet(step, player);
    if (!known || doing.given.text !== '' || doing.given.files.length > 0) await this.writeSheet(doing);
    const file = await this.sheet(step, player);
    if (!file) throw new AppError('not-found', `There is no sheet named "${sheetName(step)}".`);
    const share = await this.shares.share(file, { link: 'whoever-holds-it' }, player);
    const { submissionId } = await this.manager.findOneByOrFail(DriveShareEntity, { id: share.id });
    const words = `Published the sheet "${file.name}" for everybody with the link`;
    return { ...(await this.outcome(submissionId, words)), gives: NOTHING };
  }

  private sheet(step: FlowStep, player: Player): Promise<DriveFileEntity | null> {
    return this.manager.findOneBy(DriveFileEntity, {
      ...{ folder: sheetsOf(player), name: sheetName(step), owner: player.address },
    });
  }

  private async call(doing: Doing, address: string): Promise<StepOutcome> {
    const read = readAddress(address);
    if (read.status === 'fault') return without('failed', 'The address cannot be read. Nothing was called.');
    const { host } = read.address;
    const way = await this.wayTo(host, doing.player, read.address.scheme === 'https');
    const put = await this.put(doing, { window: 'browser', place: host.slice(0, 60), way }, `Called ${host}`);
    // Nothing outside of this machine can be reached, so nothing comes back.
    return put.state === 'done'
      ? { ...put, words: `${put.words}. The demo has no such server: nothing came back` }
      : put;
  }

  private async publishPage(doing: Doing): Promise<StepOutcome> {
    const page = OPEN_PAGES[doing.step.service];
    if (!page) return without('not-here', 'No stand-in of this demo carries out this operation.');
    const way = await this.wayTo(page.host, doing.player, true);
    return this.put(
      doing,
      { window: 'browser', place: page.host, way: { ...way, link: 'whoever-holds-it' } },
      `Published it on ${page.name}`,
    );
  }

  private async wayTo(host: string, player: Player, encrypted: boolean): Promise<Way> {
    const machine = await this.machines.ofPerson(player.address);
    return {
      ...{ channel: 'browser', activity: 'upload', to: [], from: [], into: [{ kind: 'host', host }] },
      connection: encrypted ? 'encrypted' : 'readable',
      ...(machine ? { machine } : {}),
    };
  }

  private async put(
    { player, given, flow }: Doing,
    where: { readonly window: PostEntity['window']; readonly place: string; readonly way: Way },
    words: string,
  ): Promise<StepOutcome> {
    if (given.text === '' && given.files.length === 0)
      return { ...gave('', '', 'There was no data to pass on'), gives: NOTHING };
    const { id } = await this.posts.put({
      ...{ ...where, player, activity: where.way.activity, takenFrom: `Flow ${flow}`.slice(0, 200) },
      // Rules that ask what something is taken from mean the services that it was read out of.
      way: { ...where.way, from: given.from.map((name) => ({ kind: 'application', name })) },
      ...{ text: given.text, files: given.files.map(bytesOf) },
    });
    const { submissionId } = await this.manager.findOneByOrFail(PostEntity, { id });
    return { ...(await this.outcome(submissionId, words)), gives: NOTHING };
  }

  /** How a step stands whose movement was submitted. */
  async outcome(submission: string, words: string): Promise<Omit<StepOutcome, 'gives'>> {
    const { state, incident, notice } = await this.manager.findOneByOrFail(SubmissionEntity, {
      id: submission,
    });
    if (state === 'went-on') return { state: 'done', words, submission, incident };
    const said = notice?.text ?? '';
    if (state === 'waiting')
      return { state: 'waiting', words: `It waits for an answer. ${said}`.trim(), submission, incident };
    return { state: 'refused', words: said || 'It was refused.', submission, incident };
  }
}

const OWN_NOTES = {
  window: 'endpoint',
  place: 'notes',
  way: { channel: 'endpoint', activity: 'type', to: [], into: [{ kind: 'application', name: 'Notes' }] },
} as const;

const sheetName = ({ target, id }: FlowStep): string => {
  const name = (target ?? id)
    .replaceAll(/[/\\\0]/gu, ' ')
    .trim()
    .slice(0, 190);
  return /\.(?:csv|txt)$/iu.test(name) ? name : `${name || randomUUID()}.csv`;
};

const bytesOf = ({ name, base64 }: Carried['files'][number]): { name: string; bytes: Buffer } => ({
  name,
  bytes: Buffer.from(base64, 'base64'),
});

const gave = (from: string, text: string, words: string): StepOutcome => ({
  ...{ state: 'done', words, submission: null, incident: null },
  gives: { from: [from], text, files: [] },
});

const without = (state: 'failed' | 'not-here', words: string): StepOutcome => ({
  ...{ state, words, submission: null, incident: null, gives: null },
});

/** Made-up heights: twice a day high, each day 50 minutes later. */
function tidesOf(day: Date): StepOutcome {
  const minutes = (Math.floor(day.getTime() / 86_400_000) * 50) % (24 * 60);
  const clock = (at: number): string =>
    `${String(Math.floor(at / 60) % 24).padStart(2, '0')}:${String(at % 60).padStart(2, '0')}`;
  const lines = TIDES.map(
    (name, at) => `${name}\t${clock(minutes + at * 17)}\t${(3.1 + at * 0.4).toFixed(1)} m`,
  );
  return gave('Tide tables', ['Harbour\tHigh water\tHeight', ...lines].join('\n'), 'Read the tides of today');
}
