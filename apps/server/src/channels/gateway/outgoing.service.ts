import { randomUUID } from 'node:crypto';
import type { Treatment } from '@lantern/core';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { createTransport } from 'nodemailer';
import { EntityManager, LessThanOrEqual } from 'typeorm';
import { PeopleService } from '../../people/people.service.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { seal, unseal } from '../../platform/sealing.js';
import { encryptedFor } from './encrypted-mail.js';
import { type DeliveryState, OutgoingMailEntity, OutgoingRecipientEntity } from './gateway.entity.js';
import { PostOffice } from './post-office.js';

/** Waits between tries in minutes; after the last one it stays where it is until somebody looks (RFC 5321, 4.5.4.1). */
const WAITS = [1, 5, 15, 60, 240, 720, 1440];
const SWEEP_MS = 10_000;
const MINUTE_MS = 60_000;
const DELIVERED_AT_ONCE = 20;
/** What a relay is given to answer before the try counts as failed. */
const ANSWER_WITHIN_MS = 30_000;

export interface OutgoingMail {
  readonly sender: string;
  readonly recipients: readonly string[];
  readonly raw: Uint8Array;
  readonly treatments: readonly Treatment[];
}

/**
 * Mail on its way out: kept with the verdict in one transaction, handed on after it, tried again until it is taken. A try
 * that was cut off is made again with the same message id, by which its receiver knows it.
 */
@Injectable()
export class OutgoingService implements OnApplicationShutdown {
  private readonly log = new Logger('outgoing');
  private timer: NodeJS.Timeout | undefined;
  private running: Promise<void> | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly people: PeopleService,
    private readonly post: PostOffice,
  ) {}

  start(): void {
    this.timer = setInterval(() => this.kick(), SWEEP_MS).unref();
    this.kick();
  }

  async onApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    await this.running;
  }

  /** Within the caller's transaction. Nothing is kept for receivers inside: those read in their own windows. */
  async queue(manager: EntityManager, { sender, recipients, raw, treatments }: OutgoingMail): Promise<void> {
    if (recipients.length === 0) return;
    const id = randomUUID();
    const asks = (kind: Treatment['kind']): boolean => treatments.some((each) => each.kind === kind);
    await manager.insert(OutgoingMailEntity, {
      id,
      at: new Date(),
      sender,
      needsTls: asks('encrypted-connection'),
      needsSmime: asks('encrypt-content'),
      sealed: seal(this.config.evidenceKey, `outgoing ${id}`, raw),
    });
    await manager.insert(
      OutgoingRecipientEntity,
      recipients.map((address) => ({
        mailId: id,
        address,
        state: 'queued' as const,
        reason: '',
        tries: 0,
        nextAt: new Date(),
        deliveredAt: null,
      })),
    );
  }

  /** Looks at once for what is due; called after a commit. */
  kick(): void {
    // What is queued before there is anybody to hand it to waits for the start.
    if (!this.timer) return;
    this.running ??= this.deliverDue()
      .catch((error: unknown) => this.log.error(error instanceof Error ? error.name : 'unknown'))
      .finally(() => (this.running = undefined));
  }

  /** Until nothing is due any more. */
  async deliverDue(now: () => Date = () => new Date()): Promise<void> {
    for (;;) {
      const due = await this.manager.find(OutgoingRecipientEntity, {
        where: { state: 'queued', nextAt: LessThanOrEqual(now()) },
        order: { id: 'ASC' },
        take: DELIVERED_AT_ONCE,
      });
      if (due.length === 0) return;
      for (const recipient of due) await this.deliver(recipient, now());
    }
  }

  private async deliver(recipient: OutgoingRecipientEntity, now: Date): Promise<void> {
    const mail = await this.manager.findOneByOrFail(OutgoingMailEntity, { id: recipient.mailId });
    const raw = unseal(this.config.evidenceKey, `outgoing ${mail.id}`, mail.sealed);
    const content = mail.needsSmime ? await this.encrypted(raw, recipient.address) : raw;
    if (content === null)
      return this.put(recipient, 'stuck', 'The directory holds no certificate of this receiver.', now);
    try {
      const { host, port } = this.post.routeFor(recipient.address);
      const transport = createTransport({
        host,
        port,
        requireTLS: mail.needsTls,
        // What is demanded is that nobody reads along; who the relay is, is known by its address (RFC 7435).
        tls: { rejectUnauthorized: false },
        connectionTimeout: ANSWER_WITHIN_MS,
        socketTimeout: ANSWER_WITHIN_MS,
      });
      await transport.sendMail({ envelope: { from: mail.sender, to: recipient.address }, raw: content });
      await this.put(recipient, 'delivered', '', now);
    } catch (error) {
      await this.retry(recipient, reasonOf(error), now);
    }
  }

  private async encrypted(raw: Buffer, address: string): Promise<Buffer | null> {
    const certificate = await this.people.certificateOf(address);
    return certificate ? encryptedFor(raw, certificate) : null;
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
    return { words: 'The receiver offers no encrypted connection, and this mail demands one.', final: true };
  if (responseCode !== undefined && responseCode >= 500)
    return { words: `The receiver refused it with ${responseCode}.`, final: true };
  return { words: `The receiver could not be reached (${code ?? 'unknown'}).`, final: false };
}
