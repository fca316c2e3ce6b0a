import { MAX_RECIPIENTS, type MailNotice } from '@lantern/contracts';
import { evaluate, type InspectedMovement } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { isEmail } from 'class-validator';
import { EntityManager } from 'typeorm';
import { type JudgedMovement, RecorderService } from '../../incidents/recorder.service.js';
import { InspectionService } from '../../inspection/inspection.service.js';
import { PeopleService } from '../../people/people.service.js';
import type { PersonEntity } from '../../people/person.entity.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { PublishedRevision } from '../../policies/published-revision.js';
import { mailNotice } from './mail-notice.js';
import { type MailFile, MailboxService } from './mailbox.service.js';

/** A mail somebody sends. */
export interface OutgoingMail {
  readonly person: PersonEntity;
  readonly to: readonly string[];
  readonly subject: string;
  readonly body: string;
  readonly files: readonly MailFile[];
  /** The draft it was written from; it is gone when the mail has gone. */
  readonly draft: string | null;
  readonly at: Date;
}

export interface SentMail {
  readonly status: 'sent' | 'refused';
  /** The copy in the sent folder, or the draft that was kept. */
  readonly messageId: string;
  readonly incident: number | null;
}

/** Turns mail into a movement and applies the verdict: what is blocked stays with its sender as a draft. */
@Injectable()
export class MailChannelService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly inspection: InspectionService,
    private readonly published: PublishedRevision,
    private readonly recorder: RecorderService,
    private readonly mailboxes: MailboxService,
    private readonly live: LiveEvents,
  ) {}

  async send(mail: OutgoingMail): Promise<SentMail> {
    const to = readRecipients(mail.to);
    const isOutside = await this.people.outsideTest();
    const judged = await this.judge(mail, to, isOutside);
    const refused = judged.verdict.answer === 'block';
    const inside = refused
      ? []
      : await this.people.findByAddresses(to.filter((address) => !isOutside(address)));
    const sent = await this.manager.transaction(async (manager) => {
      const recorded = await this.recorder.record(manager, judged);
      if (mail.draft) await this.mailboxes.remove(manager, mail.person.id, mail.draft);
      const { at, subject, body, files, person } = mail;
      const copy = { at, from: person.address, to, subject, body, files, notice: judged.notice };
      const messageId = await this.mailboxes.keep(manager, {
        ...copy,
        owner: person.id,
        folder: refused ? 'drafts' : 'sent',
      });
      for (const receiver of inside)
        await this.mailboxes.keep(manager, { ...copy, owner: receiver.id, folder: 'inbox' });
      return { messageId, incident: recorded.incident };
    });
    if (sent.incident !== null) this.live.publish({ kind: 'incident-recorded', number: sent.incident });
    return { status: refused ? 'refused' : 'sent', ...sent };
  }

  /** Inspects and judges a mail by the revision that is in force as it begins. Writes nothing. */
  private async judge(
    mail: OutgoingMail,
    to: readonly string[],
    isOutside: (address: string) => boolean,
  ): Promise<JudgedMovement & { notice: MailNotice | null }> {
    const revision = this.published.current;
    const inspected = await this.inspection.inspect({
      texts: [
        { role: 'subject', path: ['subject'], text: mail.subject },
        { role: 'body', path: ['body'], text: mail.body },
      ],
      files: mail.files.map((file) => ({ role: 'attachment', name: file.name, bytes: file.bytes })),
      keepTexts: 0,
    });
    const movement: InspectedMovement = {
      channel: 'mail',
      sender: { address: mail.person.address },
      recipients: to.map((address) => ({ address, outside: isOutside(address) })),
      parts: inspected.map(({ part }) => part),
    };
    const policies = revision?.document.policies ?? [];
    const verdict = evaluate(policies, movement);
    const notice =
      verdict.answer === 'block'
        ? mailNotice(movement, verdict, policies, revision?.document.patterns ?? [])
        : null;
    const { name, department } = mail.person;
    const person = { name, department };
    return { movement, person, at: mail.at, inspected, verdict, revision: revision?.number ?? null, notice };
  }
}

/** Addresses in lower case, each once. Throws a refusal that names what is wrong; the draft is untouched by it. */
function readRecipients(to: readonly string[]): string[] {
  const addresses = [
    ...new Set(to.map((address) => address.trim().toLowerCase()).filter((address) => address !== '')),
  ];
  if (addresses.length === 0)
    throw new AppError('no-recipients', 'The mail has no recipient. It was not sent.');
  if (addresses.length > MAX_RECIPIENTS) {
    throw new AppError(
      'too-many-recipients',
      `The mail names ${addresses.length} recipients; one mail takes ${MAX_RECIPIENTS}. It was not sent, and nothing of it was lost.`,
      {
        details: { recipients: addresses.length, limit: MAX_RECIPIENTS },
      },
    );
  }
  const wrong = addresses.find((address) => !isEmail(address, { require_tld: false }));
  if (wrong !== undefined)
    throw new AppError('bad-address', `"${wrong.slice(0, 100)}" is no mail address. The mail was not sent.`, {
      details: { address: wrong.slice(0, 100) },
    });
  return addresses;
}
