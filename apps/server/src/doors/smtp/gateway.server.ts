import { BlockList, isIPv6 } from 'node:net';
import { MAX_RECIPIENTS } from '@lantern/contracts';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import {
  SMTPServer,
  type SMTPServerAddress,
  type SMTPServerDataStream,
  type SMTPServerSession,
} from 'smtp-server';
import { factsOf, PeopleService } from '../../directory/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { speaksFor } from '../agents/agent-limits.js';
import { AgentsService } from '../agents/agents.service.js';
import { OutgoingService } from '../outgoing/outgoing.service.js';
import { ClientLimits, MAX_CLIENTS } from './client-limits.js';
import { GatewayService } from './gateway.service.js';
import { answerForFailure, type SmtpAnswer } from './smtp-answers.js';
import { listening, ownTls, portOf, readAll, stopped } from './smtp-parts.js';

/** Largest mail that is taken, told to clients by SIZE (RFC 1870): two files of the largest size in base 64. */
export const MAX_MAIL_BYTES = 50 * 1024 * 1024;
/** A client that says nothing in the middle of a mail for so long is gone (RFC 5321, 4.5.3.2.7). */
const SILENT_MS = 5 * 60_000;
/** Mails that are judged at the same time; more wait, and are asked to come back where too many wait. */
const MOST_AT_ONCE = 12;
/** Bytes of mails that are held in memory at the same time. */
const MOST_BYTES = 400 * 1024 * 1024;
/** Longest address that is taken: a mail with a longer one could not be kept (RFC 5321, 4.5.3.1.3 allows 256). */
const LONGEST_ADDRESS = 254;
/** Servers that a mail may have passed before it is taken to go round in circles (RFC 5321, 6.3). */
const MOST_HOPS = 50;

/** The SMTP door (RFC 5321). It takes mail from stated networks, or after AUTH, and relays for nobody else. */
@Injectable()
export class GatewayServer implements OnApplicationShutdown {
  private readonly log = new Logger('gateway');
  private readonly limits = new ClientLimits();
  private readonly networks = new BlockList();
  private server: SMTPServer | undefined;
  private open = false;
  private judging = 0;
  private bytes = 0;
  private readonly turns: (() => void)[] = [];

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly gateway: GatewayService,
    private readonly outgoing: OutgoingService,
    private readonly agents: AgentsService,
    private readonly people: PeopleService,
  ) {
    for (const { address, bits } of config.smtpNetworks)
      this.networks.addSubnet(address, bits, isIPv6(address) ? 'ipv6' : 'ipv4');
  }

  /** Opens the door. Called when everything is ready, since what is accepted must not be emptied away again. */
  async start(): Promise<void> {
    this.outgoing.start();
    const server = new SMTPServer({
      ...ownTls(),
      name: 'lantern.localhost',
      banner: 'Uncut Lantern',
      authOptional: true,
      authMethods: ['PLAIN', 'LOGIN'],
      size: MAX_MAIL_BYTES,
      // Those above are pushed out or sent away by the limits of our own.
      maxClients: MAX_CLIENTS * 2,
      socketTimeout: SILENT_MS,
      onAuth: ({ password }, _session, done) => {
        this.agents.of(`Bearer ${password ?? ''}`).then(
          ({ id }) => done(null, { user: id }),
          () => done(refusal({ code: 535, words: '5.7.8 The key is not valid' })),
        );
      },
      // RFC 5321, 3.1: a server may answer a connection with 421 in place of its greeting.
      onConnect: ({ remotePort, remoteAddress }, done) =>
        done(this.limits.admits(remotePort, remoteAddress) ? null : refusal(NO_ROOM)),
      onMailFrom: (address, session, done) => {
        this.mailFrom(address, session).then(
          (answer) => done(refusalOrNone(answer)),
          (error: unknown) => done(refusal(this.failure(error))),
        );
      },
      onRcptTo: (address, session, done) => {
        this.rcptTo(address, session).then(
          (answer) => done(refusalOrNone(answer)),
          (error: unknown) => done(refusal(this.failure(error))),
        );
      },
      onData: (stream, session, done) => {
        this.receive(stream, session).then(
          (answer) => (answer.code === 250 ? done(null, answer.words) : done(refusal(answer))),
          (error: unknown) => done(refusal(this.failure(error))),
        );
      },
    });
    server.on('error', (error) => this.log.warn(`A client of the gateway: ${error.name}`));
    this.limits.watch(server.server);
    this.server = server;
    this.open = await listening(server, this.config.smtpPort, { host: this.config.smtpHost, log: this.log });
  }

  async onApplicationShutdown(): Promise<void> {
    this.limits.stop();
    if (this.server) await stopped(this.server);
  }

  /** Whether mail can come in, and where. */
  get door(): { readonly open: boolean; readonly port: number } {
    return { open: this.open, port: this.open && this.server ? portOf(this.server) : this.config.smtpPort };
  }

  private async mailFrom(
    { address }: SMTPServerAddress,
    session: SMTPServerSession,
  ): Promise<SmtpAnswer | null> {
    const { remoteAddress, user } = session;
    const family = isIPv6(remoteAddress) ? 'ipv6' : 'ipv4';
    if (!user && !this.networks.check(remoteAddress, family))
      return {
        code: 530,
        words: '5.7.0 This network may not send mail here without authentication',
      };
    if (isTooLong(address)) return TOO_LONG;
    return user && !(await this.maySend(user, address)) ? NOT_THIS_SENDER : null;
  }

  /** Whether an agent that signed in may send in the name of an address. */
  private async maySend(agent: string, address: string): Promise<boolean> {
    const lower = address.toLowerCase();
    const [person] = await this.people.findByAddresses([lower]);
    return speaksFor(await this.agents.get(agent), person ? factsOf(person) : { address: lower });
  }

  /** Refuses one recipient, and leaves the others: too many, too long, nobody here, or to be relayed for strangers. */
  private async rcptTo(
    { address }: SMTPServerAddress,
    session: SMTPServerSession,
  ): Promise<SmtpAnswer | null> {
    const { envelope } = session;
    if (envelope.rcptTo.length >= MAX_RECIPIENTS)
      return { code: 452, words: '4.5.3 Too many recipients; send the rest in another mail' };
    if (isTooLong(address)) return TOO_LONG;
    const isOutside = await this.people.outsideTest();
    const from = envelope.mailFrom ? envelope.mailFrom.address : '';
    if (isOutside(address))
      return from === '' || !isOutside(from)
        ? null
        : { code: 550, words: '5.7.1 Mail from outside to outside is not relayed' };
    // With a relay, mail for people inside goes to the servers behind it, which know their own addresses.
    if (this.config.relay) return null;
    const known = await this.people.findByAddresses([address.toLowerCase()]);
    return known.length > 0
      ? null
      : { code: 550, words: '5.1.1 The directory has no such address; the recipient was refused' };
  }

  private async receive(stream: SMTPServerDataStream, session: SMTPServerSession): Promise<SmtpAnswer> {
    const { remoteAddress, remotePort, envelope } = session;
    this.limits.busy(remotePort, remoteAddress, true);
    try {
      const { raw, bareLineEnds } = await readAll(stream, MAX_MAIL_BYTES);
      if (raw === null) return { code: 552, words: '5.3.4 The mail is larger than the limit of 50 MB' };
      if (bareLineEnds)
        return {
          code: 550,
          words: '5.6.0 Lines must end with CR LF (RFC 5321, 2.3.8); the mail was refused',
        };
      if (hopsOf(raw) > MOST_HOPS)
        return { code: 554, words: '5.4.6 Mail loop: the mail has passed too many servers' };
      if (this.bytes + raw.length > MOST_BYTES)
        return { code: 451, words: '4.3.2 The server is busy; try again in a minute' };
      return await this.inTurn(raw, () =>
        this.gateway.take(
          {
            from: envelope.mailFrom ? envelope.mailFrom.address : '',
            to: envelope.rcptTo.map(({ address }) => address),
          },
          raw,
        ),
      );
    } finally {
      this.limits.busy(remotePort, remoteAddress, false);
    }
  }

  /** A few at a time; the others wait for their turn with their client, within the memory that they may take. */
  private async inTurn(raw: Buffer, work: () => Promise<SmtpAnswer>): Promise<SmtpAnswer> {
    this.bytes += raw.length;
    if (this.judging >= MOST_AT_ONCE) await new Promise<void>((resolve) => this.turns.push(resolve));
    else this.judging += 1;
    try {
      return await work();
    } finally {
      this.bytes -= raw.length;
      const next = this.turns.shift();
      if (next) next();
      else this.judging -= 1;
    }
  }

  /** Nothing was stored: where trying again can help, the client keeps the mail. */
  private failure(error: unknown): SmtpAnswer {
    const answer = answerForFailure(error);
    if (answer.code !== 550)
      this.log.error(`A mail could not be judged: ${error instanceof Error ? error.name : 'unknown'}`);
    return answer;
  }
}

const NO_ROOM: SmtpAnswer = {
  code: 421,
  words: '4.3.2 Too many connections; try again in a few seconds',
};

const NOT_THIS_SENDER: SmtpAnswer = { code: 550, words: '5.7.1 This key may not send mail for this sender' };
const TOO_LONG: SmtpAnswer = {
  code: 553,
  words: `5.1.3 An address is longer than ${LONGEST_ADDRESS} characters`,
};

const isTooLong = (address: string): boolean => Buffer.byteLength(address) > LONGEST_ADDRESS;

/** Servers that a mail says it passed, by its trace fields (RFC 5321, 4.4). */
function hopsOf(raw: Buffer): number {
  const end = raw.indexOf('\r\n\r\n');
  const head = raw.subarray(0, Math.min(end === -1 ? raw.length : end, 262_144)).toString('latin1');
  return head.match(/^received:/gim)?.length ?? 0;
}

function refusal({ code, words }: SmtpAnswer): Error {
  return Object.assign(new Error(words), { responseCode: code });
}

const refusalOrNone = (answer: SmtpAnswer | null): Error | null => answer && refusal(answer);
