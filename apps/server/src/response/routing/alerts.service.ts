import { Inject, Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, MoreThan } from 'typeorm';
import { AccountEntity } from '../../accounts/account.entity.js';
import { Access } from '../../accounts/access/access.service.js';
import { hidesNames } from '../../platform/auth/sight.js';
import { IncidentEntity } from '../../incidents/incident.entity.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { InsideMail } from '../../platform/inside-mail.js';
import { AlertEntity } from './routing.entity.js';

const SWEEP_MS = 15_000;
const HOUR_MS = 3_600_000;
/** Most mails to one address within an hour. Further incidents wait for the next hour. */
export const MAILS_AN_HOUR = 6;
/** Most incidents named in one mail. It says how many more there are. */
const NAMED = 20;
const FROM = 'incidents@localhost';

/** Tells people of incidents at once, several in one mail, and never more often than a stated number an hour. */
@Injectable()
export class Alerts implements OnModuleInit, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly inside: InsideMail,
    private readonly access: Access,
  ) {}

  onModuleInit(): void {
    this.timer = setInterval(() => void this.send(new Date()).catch(() => undefined), SWEEP_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  /** Sends what waits, one mail an address. Gives how many mails. */
  async send(now: Date): Promise<number> {
    const addresses = await this.manager.query<{ address: string }[]>(
      'SELECT DISTINCT address FROM alert WHERE sentAt IS NULL',
    );
    let mails = 0;
    for (const { address } of addresses) if (await this.sendTo(address, now)) mails += 1;
    return mails;
  }

  private sendTo(address: string, now: Date): Promise<boolean> {
    return this.manager.transaction(async (manager) => {
      const hour = new Date(now.getTime() - HOUR_MS);
      const [sent] = await manager.query<{ mails: string }[]>(
        'SELECT COUNT(DISTINCT sentAt) AS mails FROM alert WHERE address = ? AND sentAt > ?',
        [address, hour],
      );
      if (Number(sent?.mails ?? 0) >= MAILS_AN_HOUR) return false;
      const waiting = await manager.find(AlertEntity, {
        where: { address, sentAt: IsNull() },
        order: { id: 'ASC' },
        lock: { mode: 'pessimistic_write' },
      });
      if (waiting.length === 0) return false;
      const numbers = [...new Set(waiting.map(({ incidentNumber }) => incidentNumber))];
      await manager.update(AlertEntity, { id: In(waiting.map(({ id }) => id)) }, { sentAt: now });
      const lines = await this.lines(numbers.slice(0, NAMED), waiting, await this.isWithoutNames(address));
      const more = numbers.length > NAMED ? [`And ${numbers.length - NAMED} more.`] : [];
      await this.inside.send(manager, {
        from: FROM,
        to: address,
        subject: numbers.length === 1 ? `Incident ${numbers[0] ?? ''}` : `${numbers.length} incidents`,
        text: [...lines, ...more, '', `Open the desk: ${this.config.address}/incidents`].join('\n'),
        at: now,
      });
      return true;
    });
  }

  /** Whether names of people are hidden from the account of this address. */
  private async isWithoutNames(address: string): Promise<boolean> {
    const account = await this.manager.findOneBy(AccountEntity, { email: address });
    return account !== null && hidesNames(await this.access.sightOf(account, 'incidents.read'));
  }

  /** One line an incident: who, how severe, by which rule. No title, no value. */
  private async lines(
    numbers: readonly number[],
    alerts: readonly AlertEntity[],
    withoutNames: boolean,
  ): Promise<string[]> {
    const incidents = await this.manager.find(IncidentEntity, {
      where: { number: In([...numbers]), at: MoreThan(new Date(0)) },
      select: { number: true, at: true, openSeverity: true, severity: true, channel: true, personName: true },
    });
    const byNumber = new Map(incidents.map((incident) => [incident.number, incident]));
    return numbers.flatMap((number) => {
      const incident = byNumber.get(number);
      if (!incident) return [];
      const reasons = alerts.filter((alert) => alert.incidentNumber === number).map(({ reason }) => reason);
      const when = incident.at.toISOString().slice(0, 16).replace('T', ' ');
      const severity = incident.openSeverity ?? incident.severity;
      return [
        [
          ...[`Incident ${number}`, severity, `${when} UTC`],
          ...(withoutNames ? [] : [incident.personName]),
          `${incident.channel}: ${[...new Set(reasons)].join(', ')}`,
        ].join(', '),
        `  ${this.config.address}/incidents/${number}`,
      ];
    });
  }
}
