import type { BreachRow, OwnersTold, TellOwnersRequest } from '@lantern/contracts/crossings';
import { breachSentence } from '@lantern/core/automations';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { InsideMail, SYSTEM_SENDER } from '../platform/inside-mail.js';
import { AppError } from '../platform/errors/app-error.js';
import { Trail } from '../platform/trail/trail.service.js';
import { Automations } from './automations.service.js';
import { BreachesExport } from './breaches-export.service.js';

/** Breaches that owners are told of at once; more are a matter for a set with a date. */
const MOST_TOLD = 20_000;
/** Lines of one mail; the rest is counted. */
const MOST_LINES = 50;

/** Tells owners in one mail each what of theirs is in breach, and by when to mend it. */
@Injectable()
export class OwnerTelling {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly automations: Automations,
    private readonly exports: BreachesExport,
    private readonly inside: InsideMail,
    private readonly trail: Trail,
  ) {}

  async tell({ by, search = '', until, words }: TellOwnersRequest, actor: string): Promise<OwnersTold> {
    const now = new Date();
    if (until < now.toISOString().slice(0, 10))
      throw new AppError('invalid-request', 'The day by which to mend it lies in the past. Nobody was told.');
    const { rows } = await this.automations.breaches(by, search, MOST_TOLD);
    const owners = new Map<string, BreachRow[]>();
    for (const row of rows) owners.set(row.owner, [...(owners.get(row.owner) ?? []), row]);
    const { names } = await this.exports.namesFor(by);
    const told: string[] = [];
    const notTold: string[] = [];
    await this.manager.transaction(async (manager) => {
      for (const [owner, own] of owners) {
        const lines = own
          .slice(0, MOST_LINES)
          .map((row) => `- ${row.name}: ${breachSentence(row.breach, names)}`);
        const more = own.length > MOST_LINES ? [`- and ${own.length - MOST_LINES} more`] : [];
        const text = [
          by === 'published'
            ? 'These automations of yours may not run as they are:'
            : 'These automations of yours will not run any more once changes are published that are being prepared:',
          ...['', ...lines, ...more, '', `Please mend them by ${until}.`],
          ...(words.trim() === '' ? [] : ['', words.trim()]),
        ].join('\n');
        const mail = { from: SYSTEM_SENDER, to: owner, subject: 'Your automations', text, at: now };
        const isSent = owner !== '' && (await this.inside.send(manager, mail));
        (isSent ? told : notTold).push(owner || 'nobody');
      }
    });
    await this.trail.add({
      ...{ actor, action: 'POST /crossings/breaches/told', target: by },
      facts: { owners: String(told.length), until },
    });
    return { told: told.sort(), notTold: notTold.sort() };
  }
}
