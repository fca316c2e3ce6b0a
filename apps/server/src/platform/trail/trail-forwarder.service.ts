import { readFile } from 'node:fs/promises';
import { isIP } from 'node:net';
import { hostname } from 'node:os';
import { connect, type TLSSocket } from 'node:tls';
import type { TrailForwardingView } from '@lantern/contracts';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, MoreThan } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { InstallationEntity } from '../installation.entity.js';
import { syslogFrame } from './syslog.js';
import { TrailEntity } from './trail.entity.js';

const NAME = 'trail-forwarded';
/** New entries are looked for so often; where the receiver cannot be reached, it is tried again after as long. */
const EVERY_MS = 5_000;
const AT_ONCE = 500;
/** A receiver that takes nothing for so long counts as gone. */
const PATIENCE_MS = 15_000;

/**
 * Sends the trail on as syslog over TLS (RFC 5425), where that is configured: each entry at least once, in order, however
 * long the receiver was away. What could not be sent yet waits in the trail itself.
 */
@Injectable()
export class TrailForwarder implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('trail');
  private timer: NodeJS.Timeout | undefined;
  private socket: TLSSocket | null = null;
  private working: Promise<void> = Promise.resolve();
  private failing: { readonly since: Date; readonly why: string } | null = null;
  private closing = false;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  onApplicationBootstrap(): void {
    if (this.config.syslog === null) return;
    this.timer = setInterval(() => void this.look(), EVERY_MS).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    this.closing = true;
    clearInterval(this.timer);
    await this.working;
    this.socket?.destroy();
  }

  /** Sends what is new; of two looks at once, the second waits for the first. */
  look(): Promise<void> {
    this.working = this.working.then(() => this.sendNew());
    return this.working;
  }

  async view(): Promise<TrailForwardingView> {
    const { syslog } = this.config;
    if (syslog === null) return { to: null, sent: 0, waiting: 0, failing: null };
    const sent = await this.sent();
    const waiting = await this.manager.countBy(TrailEntity, { number: MoreThan(sent) });
    const failing = this.failing && { since: this.failing.since.toISOString(), why: this.failing.why };
    return { to: `${syslog.host}:${syslog.port}`, sent, waiting, failing };
  }

  private async sendNew(): Promise<void> {
    if (this.closing) return;
    try {
      for (;;) {
        const after = await this.sent();
        const entries = await this.manager.find(TrailEntity, {
          where: { number: MoreThan(after) },
          order: { number: 'ASC' },
          take: AT_ONCE,
        });
        const last = entries.at(-1);
        if (!last) break;
        const host = hostname();
        await this.write(Buffer.concat(entries.map((entry) => syslogFrame(entry, host))));
        const note = { name: NAME, value: String(last.number), at: new Date() };
        await this.manager.save(InstallationEntity, note);
        if (entries.length < AT_ONCE || this.closing) break;
      }
      if (this.failing) this.log.log('The audit trail is sent on again.');
      this.failing = null;
    } catch (error) {
      this.socket?.destroy();
      this.socket = null;
      const why = error instanceof Error ? error.message : 'unknown';
      if (!this.failing) this.log.warn(`The audit trail cannot be sent on: ${why}`);
      this.failing ??= { since: new Date(), why };
    }
  }

  private async sent(): Promise<number> {
    const found = await this.manager.findOneBy(InstallationEntity, { name: NAME });
    return Number(found?.value ?? 0);
  }

  private async write(frames: Buffer): Promise<void> {
    const socket = await this.connected();
    await within(
      new Promise<void>((resolve, reject) => {
        socket.once('error', reject);
        socket.write(frames, (error) => {
          socket.off('error', reject);
          if (error) reject(error);
          else resolve();
        });
      }),
    );
  }

  private async connected(): Promise<TLSSocket> {
    if (this.socket && !this.socket.destroyed && this.socket.writable) return this.socket;
    const { syslog } = this.config;
    if (syslog === null) throw new Error('Nothing to send to');
    const { host, port, authority } = syslog;
    const ca = authority === null ? undefined : await readFile(authority);
    // A server is named by its name alone (RFC 6066, 3); a number is checked against the certificate all the same.
    const named = isIP(host) === 0 ? { servername: host } : {};
    const socket = connect({ host, port, ...named, ...(ca ? { ca } : {}) });
    // It is heard of where something is written; without a listener it would end the server.
    socket.on('error', () => undefined);
    await within(
      new Promise<void>((resolve, reject) => {
        socket
          .once('secureConnect', resolve)
          .once('error', reject)
          .once('close', () => reject(new Error('Closed')));
      }),
    ).catch((error: unknown) => {
      socket.destroy();
      throw error;
    });
    this.socket = socket;
    return socket;
  }
}

function within<Value>(work: Promise<Value>): Promise<Value> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_resolve, reject) => {
    timer = setTimeout(() => reject(new Error('The receiver did not answer in time')), PATIENCE_MS).unref();
  });
  return Promise.race([work, late]).finally(() => clearTimeout(timer));
}
