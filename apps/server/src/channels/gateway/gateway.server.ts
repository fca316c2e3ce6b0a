import { MAX_RECIPIENTS } from '@lantern/contracts';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { GatewayService, type SmtpAnswer } from './gateway.service.js';
import { OutgoingService } from './outgoing.service.js';
import { PostOffice } from './post-office.js';
import { hasBareLineEnds } from './raw-mail.js';
import { listening, ownTls, portOf, readAll, stopped } from './smtp-parts.js';

/** Largest mail that is taken, told to clients by SIZE (RFC 1870): two files of the largest size in base 64. */
export const MAX_MAIL_BYTES = 50 * 1024 * 1024;
/** Clients at the same time; more are asked to come back. */
const MAX_CLIENTS = 100;
/** A client that says nothing for so long is gone (RFC 5321, 4.5.3.2.7). */
const SILENT_MS = 5 * 60_000;
/** Mails that are judged at the same time; more are asked to come back. */
const MOST_AT_ONCE = 12;

/** The SMTP door on loopback (RFC 5321). */
@Injectable()
export class GatewayServer implements OnApplicationShutdown {
  private readonly log = new Logger('gateway');
  private server: SMTPServer | undefined;
  private open = false;
  private judging = 0;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly gateway: GatewayService,
    private readonly outgoing: OutgoingService,
    private readonly post: PostOffice,
  ) {}

  /** Opens the door. Called when everything is ready, since what is accepted must not be emptied away again. */
  async start(): Promise<void> {
    await this.post.start();
    this.outgoing.start();
    const server = new SMTPServer({
      ...ownTls(),
      name: 'lantern.localhost',
      banner: 'Uncut Lantern',
      authOptional: true,
      disabledCommands: ['AUTH'],
      size: MAX_MAIL_BYTES,
      maxClients: MAX_CLIENTS,
      socketTimeout: SILENT_MS,
      onRcptTo: (_address, session, done) =>
        session.envelope.rcptTo.length >= MAX_RECIPIENTS
          ? done(
              refusal({ code: 452, words: '4.5.3 Too many recipients; send the rest in a mail of its own' }),
            )
          : done(),
      onData: (stream, session, done) => {
        this.receive(stream, session).then(
          (answer) => (answer.code === 250 ? done(null, answer.words) : done(refusal(answer))),
          (error: unknown) => done(refusal(this.failure(error))),
        );
      },
    });
    server.on('error', (error) => this.log.warn(`A client of the gateway: ${error.name}`));
    this.server = server;
    this.open = await listening(server, this.config.smtpPort, this.log);
  }

  async onApplicationShutdown(): Promise<void> {
    if (this.server) await stopped(this.server);
  }

  /** Whether mail can come in, and where. */
  get door(): { readonly open: boolean; readonly port: number } {
    return { open: this.open, port: this.open && this.server ? portOf(this.server) : this.config.smtpPort };
  }

  private async receive(stream: SMTPServerDataStream, session: SMTPServerSession): Promise<SmtpAnswer> {
    const raw = await readAll(stream, MAX_MAIL_BYTES);
    if (raw === null) return { code: 552, words: '5.3.4 The mail is larger than is taken here (50 MB)' };
    if (hasBareLineEnds(raw))
      return { code: 550, words: '5.6.0 Line ends must be CR LF; nothing was taken (RFC 5321, 2.3.8)' };
    if (this.judging >= MOST_AT_ONCE)
      return { code: 451, words: '4.3.2 Much is being judged; try again in a minute' };
    const { mailFrom, rcptTo } = session.envelope;
    this.judging += 1;
    try {
      return await this.gateway.take(
        { from: mailFrom ? mailFrom.address : '', to: rcptTo.map(({ address }) => address) },
        raw,
      );
    } finally {
      this.judging -= 1;
    }
  }

  /** Nothing was stored: the client keeps the mail and tries again. */
  private failure(error: unknown): SmtpAnswer {
    if (error instanceof AppError && error.status < 500)
      return { code: 550, words: `5.7.1 ${error.message}` };
    this.log.error(`A mail could not be judged: ${error instanceof Error ? error.name : 'unknown'}`);
    return { code: 451, words: '4.3.0 It could not be judged now; nothing was lost, try again later' };
  }
}

function refusal({ code, words }: SmtpAnswer): Error {
  return Object.assign(new Error(words), { responseCode: code });
}
