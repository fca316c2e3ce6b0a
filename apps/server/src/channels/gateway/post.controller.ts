import type { PostMailView, PostView } from '@lantern/contracts';
import { openMail } from '@lantern/files';
import { Controller, Get, Inject } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { PartnerEntity } from '../../people/person.entity.js';
import { Permit } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { Answers } from '../../platform/openapi.js';
import { unseal } from '../../platform/sealing.js';
import { decryptedWith } from './encrypted-mail.js';
import { OutgoingMailEntity, OutgoingRecipientEntity, PostMailEntity } from './gateway.entity.js';
import { GatewayServer } from './gateway.server.js';

/** Arrived mails that are shown, newest first. */
const SHOWN = 100;
/** Characters of a mail that are shown. */
const SHOWN_TEXT = 20_000;

/** The stand-in post office: what the world outside got, how it came, and what has not arrived. */
@ApiTags('stand-ins')
@Controller('stand-ins/post')
@Permit('stand-ins.use')
export class PostController {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly gateway: GatewayServer,
  ) {}

  @Get()
  @Answers('PostView')
  async view(): Promise<PostView> {
    const arrived = await this.manager.find(PostMailEntity, { order: { id: 'DESC' }, take: SHOWN });
    const waiting = await this.manager.find(OutgoingRecipientEntity, {
      where: { state: In(['queued', 'stuck']) },
      order: { id: 'DESC' },
      take: SHOWN,
    });
    const mails = new Map(
      (
        await this.manager.find(OutgoingMailEntity, {
          where: { id: In(waiting.map(({ mailId }) => mailId)) },
          select: { id: true, at: true, sender: true },
        })
      ).map((mail) => [mail.id, mail]),
    );
    return {
      arrived: await Promise.all(arrived.map((mail) => this.arrived(mail))),
      underway: waiting.map(({ id, mailId, address, state, reason, tries, nextAt }) => ({
        id,
        at: (mails.get(mailId)?.at ?? nextAt).toISOString(),
        sender: mails.get(mailId)?.sender ?? '',
        recipient: address,
        state: state === 'stuck' ? 'stuck' : 'queued',
        reason,
        tries,
        nextAt: state === 'stuck' ? null : nextAt.toISOString(),
      })),
      door: this.gateway.door,
    };
  }

  private async arrived(mail: PostMailEntity): Promise<PostMailView> {
    const place = `post ${mail.messageId} ${mail.recipient}`;
    const raw = unseal(this.config.evidenceKey, place, mail.sealed);
    const outer = await openMail(raw);
    const encrypted = /^content-type:\s*application\/pkcs7-mime/im.test(
      raw.subarray(0, 65_536).toString('latin1'),
    );
    const inner = encrypted ? await this.decrypted(raw, mail.recipient) : raw;
    const read = inner && (encrypted ? await openMail(inner) : outer);
    return {
      id: mail.id,
      at: mail.at.toISOString(),
      sender: mail.sender,
      recipient: mail.recipient,
      subject: outer.subject,
      tls: mail.tls,
      encrypted,
      notToBePassedOn: /^sensitivity:\s*company-confidential/im.test(
        raw.subarray(0, 65_536).toString('latin1'),
      ),
      text: read
        ? read.texts
            .map(({ text }) => text)
            .join('\n\n')
            .slice(0, SHOWN_TEXT)
        : null,
      files: read ? read.attachments.map(({ name }) => name) : [],
    };
  }

  private async decrypted(raw: Buffer, recipient: string): Promise<Buffer | null> {
    const partner = await this.manager.findOneBy(PartnerEntity, { address: recipient });
    if (!partner?.certificate || !partner.standInKey) return null;
    const key = unseal(this.config.evidenceKey, `key of ${recipient}`, partner.standInKey).toString('utf8');
    return decryptedWith(raw, partner.certificate, key);
  }
}
