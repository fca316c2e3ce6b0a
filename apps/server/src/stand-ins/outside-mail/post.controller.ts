import type { PostMailView, PostView } from '@lantern/contracts';
import { Controller, Get, Inject } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { Permit } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { Answers } from '../../platform/openapi.js';
import { unsealJson } from '../../platform/sealing.js';
import { OutgoingMailEntity, OutgoingRecipientEntity } from '../../doors/outgoing/outgoing.entity.js';
import { PostMailEntity } from './post-mail.entity.js';
import type { ShownMail } from './post-office.js';
import { GatewayServer } from '../../doors/smtp/gateway.server.js';

/** Arrived mails that are shown, newest first. */
const SHOWN = 100;
/** A list needs no bytes of whole mails. */
const WITHOUT_BYTES = {
  ...{ id: true, at: true, sender: true, recipient: true, messageId: true, tls: true },
  ...{ encrypted: true, noPassingOn: true, shown: true },
} as const;

/** The stand-in post office: what the world outside got, how it came, and what has not arrived. */
@ApiTags('stand-ins')
@Controller('stand-ins/post')
@Permit('stand-ins.use')
export class OutsideMailController {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly gateway: GatewayServer,
  ) {}

  @Get()
  @Answers('PostView')
  async view(): Promise<PostView> {
    const arrived = await this.manager.find(PostMailEntity, {
      select: WITHOUT_BYTES,
      order: { id: 'DESC' },
      take: SHOWN,
    });
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
    const { id, at, sender, recipient, tls, encrypted, noPassingOn: notToBePassedOn, messageId } = mail;
    const place = `post shown ${messageId} ${recipient}`;
    const shown =
      mail.shown && ((await unsealJson(this.config.keys.installation, place, mail.shown)) as ShownMail);
    return {
      ...{ id, at: at.toISOString(), sender, recipient, tls, encrypted, notToBePassedOn },
      subject: shown?.subject ?? '',
      text: shown?.text ?? null,
      files: shown?.files ?? [],
    };
  }
}
