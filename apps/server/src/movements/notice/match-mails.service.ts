import type { Match, PolicySet } from '@lantern/core/policy';
import { Injectable, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, LessThan } from 'typeorm';
import { InsideMail, SYSTEM_SENDER } from '../../platform/inside-mail.js';
import { DigestEntity } from './digest.entity.js';

const SWEEP_MS = 600_000;

/** Tells people beside the sender of matches, as rules say: at once, or all of a day together. Never content. */
@Injectable()
export class MatchMails implements OnModuleInit, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly inside: InsideMail,
  ) {}

  onModuleInit(): void {
    this.timer = setInterval(
      () => void this.sendDigests(new Date()).catch(() => undefined),
      SWEEP_MS,
    ).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  /** Within the transaction that records the incident, so that nobody hears of one that never came about. */
  async tell(
    manager: EntityManager,
    { incident, at, matches, set }: { incident: number; at: Date; matches: readonly Match[]; set: PolicySet },
  ): Promise<void> {
    const rules = set.policies.flatMap((policy) => policy.rules.map((rule) => ({ policy, rule })));
    const told = matches.flatMap((match) => {
      const found = rules.find(({ rule }) => rule.id === match.rule);
      return (found?.rule.tell ?? []).map((each) => ({ ...each, policy: found?.policy.name ?? '' }));
    });
    const seen = new Set<string>();
    for (const { address, when, policy } of told) {
      if (seen.has(`${when} ${address}`)) continue;
      seen.add(`${when} ${address}`);
      if (when === 'daily') await manager.insert(DigestEntity, { address, incidentNumber: incident, at });
      else await this.send(manager, address, at, [`Incident ${incident}`, `A rule of "${policy}" matched.`]);
    }
  }

  /** Sends what was noted before the present day (UTC), one mail an address. */
  async sendDigests(now: Date): Promise<void> {
    const today = new Date(`${now.toISOString().slice(0, 10)}T00:00:00Z`);
    await this.manager.transaction(async (manager) => {
      const entries = await manager.find(DigestEntity, {
        where: { at: LessThan(today) },
        lock: { mode: 'pessimistic_write' },
      });
      const byAddress = new Map<string, number[]>();
      for (const { address, incidentNumber } of entries)
        byAddress.set(address, [...(byAddress.get(address) ?? []), incidentNumber]);
      for (const [address, numbers] of byAddress) {
        const lines = [...new Set(numbers)].map((number) => `Incident ${number}`).join('\n');
        await this.send(manager, address, now, [`${numbers.length} incidents in the last day`, lines]);
      }
      await manager.delete(DigestEntity, { at: LessThan(today) });
    });
  }

  private async send(
    manager: EntityManager,
    address: string,
    at: Date,
    [subject = '', text = '']: readonly string[],
  ): Promise<void> {
    const body = `${text}\n\nOpen the incident in the workbench to see the findings. This mail contains no content by design.`;
    await this.inside.send(manager, {
      at,
      from: SYSTEM_SENDER,
      to: address.toLowerCase(),
      subject,
      text: body,
    });
  }
}
