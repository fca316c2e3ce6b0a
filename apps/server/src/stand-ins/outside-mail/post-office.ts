import { createHash } from 'node:crypto';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { domainOf } from '@lantern/core/directory';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { seal, sealJson, unseal } from '../../platform/sealing.js';
import { type MailRoute, MailRoutes } from '../../doors/outgoing/mail-routes.js';
import { FileWork } from '../../inspection/file-work.service.js';
import { PartnerEntity } from '../../directory/person.entity.js';
import { PostMailEntity } from './post-mail.entity.js';
import { listening, ownTls, portOf, readAll, stopped } from '../../doors/smtp/smtp-parts.js';

/** Domains whose stand-in server offers no encrypted connection. */
const WITHOUT_TLS: readonly string[] = ['oldharbour.example'];
/** Mail of the stand-in at most, a little more than the gateway takes, since heads grow. */
const MAX_POST_BYTES = 60 * 1024 * 1024;

/** The world outside, as a small SMTP server of its own: it takes everything and shows what arrived, and how. */
@Injectable()
export class PostOffice implements OnApplicationShutdown {
  private readonly log = new Logger('post office');
  private readonly servers: SMTPServer[] = [];
  private ports = { tls: 0, plain: 0 };

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly routes: MailRoutes,
    private readonly files: FileWork,
  ) {}

  /** One door with an encrypted connection, one without. */
  async start(): Promise<void> {
    const { relay } = this.config;
    if (relay) return;
    const tls = this.server([]);
    const plain = this.server(['STARTTLS']);
    await listening(tls, this.config.postPort, { log: this.log });
    await listening(plain, 0, { log: this.log });
    this.ports = { tls: portOf(tls), plain: portOf(plain) };
    this.routes.standInBy((address) => this.routeFor(address));
  }

  async onApplicationShutdown(): Promise<void> {
    await Promise.all(this.servers.map(stopped));
  }

  private routeFor(address: string): MailRoute {
    const plain = WITHOUT_TLS.includes(domainOf(address));
    return { host: '127.0.0.1', port: plain ? this.ports.plain : this.ports.tls };
  }

  private server(hidden: readonly string[]): SMTPServer {
    const server = new SMTPServer({
      ...ownTls(),
      name: 'post.stand-in.example',
      banner: 'Stand-in post office',
      authOptional: true,
      disabledCommands: ['AUTH', ...hidden],
      size: MAX_POST_BYTES,
      onData: (stream, session, done) => {
        this.store(stream, session).then(
          () => done(null, 'Taken'),
          () => done(Object.assign(new Error('4.3.0 Try again later'), { responseCode: 451 })),
        );
      },
    });
    server.on('error', (error) => this.log.warn(`The stand-in post office: ${error.name}`));
    this.servers.push(server);
    return server;
  }

  private async store(stream: SMTPServerDataStream, session: SMTPServerSession): Promise<void> {
    const { raw } = await readAll(stream, MAX_POST_BYTES);
    if (raw === null) throw new Error('too large');
    const { mailFrom, rcptTo } = session.envelope;
    const cipher = session.secure ? (session.tlsOptions as { version?: string } | undefined) : undefined;
    const messageId = createHash('sha256').update(messageIdOf(raw)).digest('hex');
    const key = this.config.keys.installation;
    for (const { address } of rcptTo) {
      const recipient = address.toLowerCase().slice(0, 320);
      const shown = await this.shownTo(raw, recipient);
      await this.manager
        .createQueryBuilder()
        .insert()
        .orIgnore()
        .into(PostMailEntity)
        .values({
          at: new Date(),
          sender: (mailFrom ? mailFrom.address : '').slice(0, 320),
          recipient,
          messageId,
          tls: session.secure ? (cipher?.version ?? 'TLS') : '',
          sealed: await seal(key, `post ${messageId} ${recipient}`, raw),
          encrypted: isIn(raw, ENCRYPTED),
          noPassingOn: isIn(raw, NO_PASSING_ON),
          shown: await sealJson(key, `post shown ${messageId} ${recipient}`, shown),
        })
        .execute();
    }
  }

  /** What its reader sees of a mail, worked out once as it arrives. */
  private async shownTo(raw: Buffer, recipient: string): Promise<ShownMail> {
    const outer = await this.files.openMail(raw);
    const inner = isIn(raw, ENCRYPTED) ? await this.decrypted(raw, recipient) : raw;
    const read = inner && (inner === raw ? outer : await this.files.openMail(inner));
    return {
      subject: outer?.subject ?? '',
      text: read
        ? read.texts
            .map(({ text }) => text)
            .join('\n\n')
            .slice(0, SHOWN_TEXT)
        : null,
      files: read ? read.attachments.map(({ name }) => name) : [],
    };
  }

  private async decrypted(raw: Buffer, recipient: string): Promise<Uint8Array | null> {
    const partner = await this.manager.findOneBy(PartnerEntity, { address: recipient });
    if (!partner?.certificate || !partner.standInKey) return null;
    const key = await unseal(this.config.keys.installation, `key of ${recipient}`, partner.standInKey);
    return this.files.decryptMail(raw, partner.certificate, key.toString('utf8'));
  }
}

/** A mail as its reader sees it. */
export interface ShownMail {
  readonly subject: string;
  /** Null where it is encrypted for somebody else. */
  readonly text: string | null;
  readonly files: readonly string[];
}

/** Characters of a mail that are shown. */
const SHOWN_TEXT = 20_000;
const ENCRYPTED = /^content-type:\s*application\/pkcs7-mime/im;
const NO_PASSING_ON = /^sensitivity:\s*company-confidential/im;

/** Whether a field stands in the head of a mail. */
const isIn = (raw: Buffer, field: RegExp): boolean => field.test(raw.subarray(0, 65_536).toString('latin1'));

/** By which a receiver knows a mail again (RFC 5322, 3.6.4); its bytes where it has none. */
function messageIdOf(raw: Buffer): Buffer | string {
  const head = raw.subarray(0, 65_536).toString('latin1');
  return /^message-id:\s*(<[^>\r\n]{1,900}>)/im.exec(head)?.[1] ?? raw;
}
