import { createHash, randomBytes, randomUUID } from 'node:crypto';
import type { AgentRequest, AgentView, NewAgent } from '@lantern/contracts';
import { EVERYBODY } from '@lantern/core/directory';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { AgentEntity } from './agent.entity.js';
import { SubmissionEntity } from '../../movements/submission.entity.js';

/** Being seen is written down so often at most. */
const SEEN_EVERY_MS = 30_000;

/** Agents that hand in movements, and their keys. */
@Injectable()
export class AgentsService {
  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  async list(): Promise<AgentView[]> {
    const agents = await this.manager.find(AgentEntity, { order: { name: 'ASC' } });
    const counts = await this.manager
      .createQueryBuilder(SubmissionEntity, 'a')
      .select('a.submitter', 'agent')
      .addSelect('COUNT(*)', 'movements')
      .groupBy('a.submitter')
      .getRawMany<{ agent: string; movements: string }>();
    const movements = new Map(counts.map((row) => [row.agent, Number(row.movements)]));
    return agents.map((agent) => ({
      id: agent.id,
      name: agent.name,
      people: agent.people ?? EVERYBODY,
      hoursBack: agent.hoursBack,
      createdAt: agent.createdAt.toISOString(),
      createdBy: agent.createdBy,
      lastSeen: agent.lastSeen?.toISOString() ?? null,
      movements: movements.get(agent.id) ?? 0,
      revokedAt: agent.revokedAt?.toISOString() ?? null,
    }));
  }

  /** The key is in the answer and nowhere else. */
  async create({ name, people, hoursBack }: AgentRequest, caller: Caller): Promise<NewAgent> {
    const taken = await this.manager.findOneBy(AgentEntity, { name: name.trim(), revokedAt: IsNull() });
    if (taken)
      throw new AppError('name-taken', `"${name.trim()}" exists already. Choose another name.`, {
        details: { name: name.trim() },
      });
    const id = randomUUID();
    const key = `lantern-${randomBytes(30).toString('base64url')}`;
    await this.manager.insert(AgentEntity, {
      id,
      name: name.trim(),
      keyDigest: digestOf(key),
      people: people ?? null,
      hoursBack: hoursBack ?? null,
      createdAt: new Date(),
      createdBy: caller.name,
      lastSeen: null,
      revokedAt: null,
    });
    return { id, name: name.trim(), key };
  }

  /** From now on its key opens nothing; what it handed in stays. */
  async revoke(id: string): Promise<void> {
    const changed = await this.manager.update(
      AgentEntity,
      { id, revokedAt: IsNull() },
      { revokedAt: new Date() },
    );
    if (!changed.affected) throw new AppError('not-found', 'No agent with a valid key has this id.');
  }

  /** An agent by its id; throws `unknown-agent` for one whose key was revoked meanwhile. */
  async get(id: string): Promise<AgentEntity> {
    const agent = await this.manager.findOneBy(AgentEntity, { id, revokedAt: IsNull() });
    if (!agent) throw new AppError('unknown-agent', 'The key of this agent was revoked. Nothing was kept.');
    return agent;
  }

  /** The agent behind a bearer token (RFC 6750). */
  async of(authorization: string | undefined): Promise<AgentEntity> {
    const key = /^Bearer\s+(\S{20,200})$/i.exec(authorization ?? '')?.[1];
    const agent = key ? await this.manager.findOneBy(AgentEntity, { keyDigest: digestOf(key) }) : null;
    if (!agent || agent.revokedAt)
      throw new AppError(
        'unknown-agent',
        'No agent has this key. Nothing was kept; ask for a key in the workbench, under Agents and channels.',
      );
    const now = new Date();
    if (!agent.lastSeen || now.getTime() - agent.lastSeen.getTime() > SEEN_EVERY_MS)
      await this.manager.update(AgentEntity, { id: agent.id }, { lastSeen: now });
    return agent;
  }
}

function digestOf(key: string): string {
  return createHash('sha256').update(key).digest('hex');
}
