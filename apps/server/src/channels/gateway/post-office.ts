import { createHash } from 'node:crypto';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { domainOf } from '@lantern/core';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { seal } from '../../platform/sealing.js';
import { PostMailEntity } from './gateway.entity.js';
import { listening, ownTls, portOf, readAll, stopped } from './smtp-parts.js';

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
  ) {}

  /** One door with an encrypted connection, one without. */
  async start(): Promise<void> {
    const { relay } = this.config;
    if (relay) return;
    const tls = this.server([]);
    const plain = this.server(['STARTTLS']);
    await listening(tls, this.config.postPort, this.log);
    await listening(plain, 0, this.log);
    this.ports = { tls: portOf(tls), plain: portOf(plain) };
  }

  async onApplicationShutdown(): Promise<void> {
    await Promise.all(this.servers.map(stopped));
  }

  /** Where mail for an address is handed in. */
  routeFor(address: string): { readonly host: string; readonly port: number } {
    if (this.config.relay) return this.config.relay;
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
    const raw = await readAll(stream, MAX_POST_BYTES);
    if (raw === null) throw new Error('too large');
    const { mailFrom, rcptTo } = session.envelope;
    const cipher = session.secure ? (session.tlsOptions as { version?: string } | undefined) : undefined;
    const messageId = createHash('sha256').update(messageIdOf(raw)).digest('hex');
    for (const { address } of rcptTo)
      await this.manager
        .createQueryBuilder()
        .insert()
        .orIgnore()
        .into(PostMailEntity)
        .values({
          at: new Date(),
          sender: mailFrom ? mailFrom.address : '',
          recipient: address.toLowerCase(),
          messageId,
          tls: session.secure ? (cipher?.version ?? 'TLS') : '',
          sealed: seal(this.config.evidenceKey, `post ${messageId} ${address.toLowerCase()}`, raw),
        })
        .execute();
  }
}

/** By which a receiver knows a mail again (RFC 5322, 3.6.4); its bytes where it has none. */
function messageIdOf(raw: Buffer): Buffer | string {
  const head = raw.subarray(0, 65_536).toString('latin1');
  return /^message-id:\s*(<[^>\r\n]{1,900}>)/im.exec(head)?.[1] ?? raw;
}
