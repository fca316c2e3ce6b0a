import { Readable } from 'node:stream';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { randomUUID } from 'node:crypto';
import { domainOf } from '@lantern/core/directory';
import { type Treatment } from '@lantern/core/policy';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { createTransport } from 'nodemailer';
import { EntityManager, LessThanOrEqual, TypeORMError } from 'typeorm';
import { PeopleService } from '../../directory/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { afterCommit } from '../../platform/database/transaction-context.js';
import { seal, unseal } from '../../platform/sealing.js';
import { FileWork } from '../../inspection/file-work.service.js';
import { type DeliveryState, OutgoingMailEntity, OutgoingRecipientEntity } from './outgoing.entity.js';
import { MailRoutes } from './mail-routes.js';

/** Waits between tries in minutes; after the last one it stays where it is until somebody looks (RFC 5321, 4.5.4.1). */
const WAITS = [1, 5, 15, 60, 240, 720, 1440];
const SWEEP_MS = 10_000;
const MINUTE_MS = 60_000;
const HOUR_MS = 3_600_000;
/** Entries of the queue that are looked at together. */
const DUE_AT_ONCE = 100;
/** Receiving servers that are spoken to at the same time. */
const TARGETS_AT_ONCE = 5;
/** Days after which a mail that everybody got is deleted here. */
const KEPT_DAYS = 7;
/** What a relay is given to answer before the try counts as failed. */
const ANSWER_WITHIN_MS = 30_000;

export interface OutgoingMail {
  readonly sender: string;
  readonly recipients: readonly string[];
  readonly raw: Uint8Array;
  readonly treatments: readonly Treatment[];
}

/** A mail that is sealed and not yet queued. */
export interface SealedOutgoing extends Omit<OutgoingMail, 'raw'> {
  readonly id: string;
  readonly sealed: Buffer;
}

/** Longest address that is kept (RFC 5321, 4.5.3.1: 64 octets, @, 255 octets). */
const LONGEST_ADDRESS = 320;

/**
 * Mail on its way out: kept with the verdict in one transaction, handed on after it, tried again until it is taken. A try
 * that was cut off is made again with the same message id, by which its receiver knows it.
 */
@Injectable()
export class OutgoingService implements OnApplicationShutdown {
  private readonly log = new Logger('outgoing');
  private timer: NodeJS.Timeout | undefined;
  private sweeper: NodeJS.Timeout | undefined;
  private running: Promise<void> | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly people: PeopleService,
    private readonly files: FileWork,
    private readonly routes: MailRoutes,
  ) {}

  start(): void {
    this.timer = setInterval(() => this.kick(), SWEEP_MS).unref();
    this.sweeper = setInterval(() => void this.sweep(new Date()).catch(() => undefined), HOUR_MS).unref();
    this.kick();
  }

  async onApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    clearInterval(this.sweeper);
    await this.running;
  }

  /** Seals a mail that is to go out, before the transaction that queues it. */
  async sealed({ raw, ...mail }: OutgoingMail): Promise<SealedOutgoing> {
    const id = randomUUID();
    return { ...mail, id, sealed: await seal(this.config.keys.installation, `outgoing ${id}`, raw) };
  }

  /** Queues a mail within the caller's transaction; after the commit it goes out at once. */
  async queue(
    manager: EntityManager,
    { id, sender, recipients, treatments, sealed }: SealedOutgoing,
  ): Promise<void> {
    if (recipients.length === 0) return;
    const asks = (kind: Treatment['kind']): boolean => treatments.some((each) => each.kind === kind);
    await manager.insert(OutgoingMailEntity, {
      id,
      at: new Date(),
      sender: sender.slice(0, LONGEST_ADDRESS),
      needsTls: asks('encrypted-connection'),
      needsSmime: asks('encrypt-content'),
      sealed,
    });
    await manager.insert(
      OutgoingRecipientEntity,
      recipients.map((address) => ({
        mailId: id,
        address: address.slice(0, LONGEST_ADDRESS),
        state: 'queued' as const,
        reason: '',
        tries: 0,
        nextAt: new Date(),
        deliveredAt: null,
      })),
    );
    afterCommit(() => this.kick());
  }

  /** Looks at once for what is due; called after a commit. */
  kick(): void {
    // What is queued before there is anybody to hand it to waits for the start.
    if (!this.timer) return;
    this.running ??= this.deliverDue()
      .catch((error: unknown) => this.log.error(error instanceof Error ? error.name : 'unknown'))
      .finally(() => (this.running = undefined));
  }

  /** Until nothing is due any more: several targets at once, and those of one target one behind the other. */
  async deliverDue(now: () => Date = () => new Date()): Promise<void> {
    for (;;) {
      const due = await this.manager.find(OutgoingRecipientEntity, {
        where: { state: 'queued', nextAt: LessThanOrEqual(now()) },
        order: { id: 'ASC' },
        take: DUE_AT_ONCE,
      });
      if (due.length === 0) return;
      const byTarget = new Map<string, OutgoingRecipientEntity[]>();
      for (const recipient of due) {
        const target = domainOf(recipient.address);
        byTarget.set(target, [...(byTarget.get(target) ?? []), recipient]);
      }
      const targets = byTarget.values();
      const deliverNext = async (): Promise<void> => {
        for (const recipients of targets)
          for (const recipient of recipients) await this.deliverOne(recipient, now());
      };
      await Promise.all(Array.from({ length: TARGETS_AT_ONCE }, deliverNext));
    }
  }

  /** One queue entry: whatever is wrong with it is said of it alone, and the others go on. */
  private async deliverOne(recipient: OutgoingRecipientEntity, now: Date): Promise<void> {
    try {
      await this.deliver(recipient, now);
    } catch (error) {
      if (isOfDatabase(error)) throw error;
      this.log.error(`A queued mail cannot be sent: ${error instanceof Error ? error.name : 'unknown'}`);
      await this.put(
        recipient,
        'stuck',
        'The kept mail could not be opened. Ask its sender to send it again.',
        now,
      );
    }
  }

  private async deliver(recipient: OutgoingRecipientEntity, now: Date): Promise<void> {
    const mail = await this.manager.findOneByOrFail(OutgoingMailEntity, { id: recipient.mailId });
    const raw = await unseal(this.config.keys.installation, `outgoing ${mail.id}`, mail.sealed);
    const content = mail.needsSmime ? await this.encrypted(raw, recipient.address) : raw;
    if (content === null)
      return this.put(
        recipient,
        'stuck',
        'The directory has no certificate to encrypt the mail for this recipient.',
        now,
      );
    try {
      const { host, port } = this.routes.routeFor(recipient.address);
      const transport = createTransport({
        host,
        port,
        requireTLS: mail.needsTls,
        // What is demanded is that nobody reads along; who the relay is, is known by its address (RFC 7435).
        tls: { rejectUnauthorized: false },
        connectionTimeout: ANSWER_WITHIN_MS,
        greetingTimeout: ANSWER_WITHIN_MS,
        socketTimeout: ANSWER_WITHIN_MS,
      });
      await transport.sendMail({
        envelope: { from: mail.sender, to: recipient.address },
        raw: Readable.from(pieces(content), { objectMode: false }),
      });
      await this.put(recipient, 'delivered', '', now);
    } catch (error) {
      if (isOfDatabase(error)) throw error;
      await this.retry(recipient, reasonOf(error), now);
    }
  }

  /** Mails that everybody got go after a time: they are content, and nobody needs them again. */
  async sweep(now: Date): Promise<void> {
    const before = new Date(now.getTime() - KEPT_DAYS * 24 * 60 * MINUTE_MS);
    await this.manager
      .createQueryBuilder()
      .delete()
      .from(OutgoingMailEntity)
      .where('at < :before', { before })
      .andWhere(
        "NOT EXISTS (SELECT 1 FROM outgoing_recipient r WHERE r.mailId = outgoing_mail.id AND r.state <> 'delivered')",
      )
      .execute();
  }

  private async encrypted(raw: Buffer, address: string): Promise<Buffer | null> {
    const certificate = await this.people.certificateOf(address);
    const encrypted = certificate && (await this.files.encryptMail(raw, certificate));
    return encrypted ? Buffer.from(encrypted) : null;
  }

  private async retry(recipient: OutgoingRecipientEntity, reason: Reason, now: Date): Promise<void> {
    const wait = reason.final ? undefined : WAITS[recipient.tries];
    if (wait === undefined) return this.put(recipient, 'stuck', reason.words, now);
    await this.manager.update(
      OutgoingRecipientEntity,
      { id: recipient.id },
      {
        reason: reason.words,
        tries: recipient.tries + 1,
        nextAt: new Date(now.getTime() + wait * MINUTE_MS),
      },
    );
  }

  private async put(
    { id, tries }: OutgoingRecipientEntity,
    state: DeliveryState,
    reason: string,
    now: Date,
  ): Promise<void> {
    await this.manager.update(
      OutgoingRecipientEntity,
      { id },
      { state, reason, tries: tries + 1, deliveredAt: state === 'delivered' ? now : null },
    );
  }
}

/** A failure of the database is not one of the mail: its entry stays as it is, to be tried again. */
function isOfDatabase(error: unknown): boolean {
  return error instanceof TypeORMError;
}

interface Reason {
  readonly words: string;
  /** Trying again would not help. */
  readonly final: boolean;
}

/** What kept a mail from being taken, without anything of its content. */
function reasonOf(error: unknown): Reason {
  const { code, responseCode } = (typeof error === 'object' && error !== null ? error : {}) as {
    code?: string;
    responseCode?: number;
  };
  if (code === 'ETLS')
    return {
      words: 'The receiving server offers no encrypted connection. This mail requires one.',
      final: true,
    };
  if (responseCode !== undefined && responseCode >= 500)
    return { words: `The receiving server refused it with ${responseCode}.`, final: true };
  return { words: `The receiving server could not be reached (${code ?? 'unknown'}).`, final: false };
}

/** A piece is made ready for the wire in less than a millisecond; a whole mail at once would hold up the event loop. */
const PIECE_BYTES = 64 * 1024;

async function* pieces(content: Buffer): AsyncGenerator<Buffer> {
  for (let at = 0; at < content.length; at += PIECE_BYTES) {
    if (at > 0) await nextTurn();
    yield content.subarray(at, at + PIECE_BYTES);
  }
}
