import { Injectable, type OnModuleInit } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import MimeNode from 'nodemailer/lib/mime-node/index.js';
import { InsideMail, type SystemMail } from '../../platform/inside-mail.js';
import { OutgoingService } from './outgoing.service.js';

/** Sends mails of the system through the relay where no mailbox of a stand-in takes them. */
@Injectable()
export class SystemMailOut implements OnModuleInit {
  constructor(
    private readonly inside: InsideMail,
    private readonly outgoing: OutgoingService,
  ) {}

  onModuleInit(): void {
    this.inside.otherwiseBy((manager, mail) => this.queue(manager, mail));
  }

  private async queue(manager: EntityManager, mail: SystemMail): Promise<boolean> {
    const raw = await asRawMail(mail);
    // Without a sender (RFC 5321, 4.5.5) nothing that fails comes back, and no program answers.
    const sealed = await this.outgoing.sealed({ sender: '', recipients: [mail.to], raw, treatments: [] });
    await this.outgoing.queue(manager, sealed);
    return true;
  }
}

/** The mail as it goes over the wire (RFC 5322). */
function asRawMail({ from, to, subject, text, at }: SystemMail): Promise<Buffer> {
  const node = new MimeNode('text/plain; charset=utf-8');
  node.setHeader({
    from,
    to,
    subject,
    date: at.toUTCString().replace('GMT', '+0000'),
    // RFC 3834: made by a program, which nobody answers by another.
    'auto-submitted': 'auto-generated',
  });
  node.setContent(text);
  return new Promise((resolve, reject) =>
    node.build((error: Error | null, built: Buffer) => (error ? reject(error) : resolve(built))),
  );
}
