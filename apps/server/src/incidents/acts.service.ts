import type { DeskActRequest } from '@lantern/contracts';
import {
  applyAct,
  type DeskAct,
  type DeskActResult,
  type DeskState,
  withSeverity,
} from '@lantern/core/incidents';
import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { AccountsService } from '../accounts/accounts.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { HistoryEntity, IncidentEntity, MovementEntity } from './incident.entity.js';
import { PromisesService } from './promises.service.js';

/** Who acts, when, why, and in which decision in bulk. */
export interface ActContext {
  readonly by: Pick<Caller, 'name' | 'email' | 'accountId' | 'inPlaceOf'>;
  readonly at: Date;
  readonly reason: string | null;
  readonly bulk?: string;
}

export type AppliedAct =
  | { readonly status: 'changed'; readonly version: number; readonly before: DeskState }
  | Extract<DeskActResult, { status: 'refused' }>;

/** The one place where an analyst's act changes an incident, alone or with many others. */
@Injectable()
export class Acts {
  constructor(
    private readonly accounts: AccountsService,
    private readonly promises: PromisesService,
  ) {}

  /** The act that a request asks for. Throws `not-found` for somebody who cannot take incidents. */
  async read(request: DeskActRequest): Promise<DeskAct> {
    switch (request.act) {
      case 'answer-looked-for':
      case 'answer-all-right':
      case 'mark-test':
        return { act: request.act, yes: request.yes === true };
      case 'name-cause':
        return { act: 'name-cause', cause: request.cause ?? 'slip' };
      case 'set-severity':
        return { act: 'set-severity', severity: request.severity ?? 'medium' };
      case 'assign':
        return { act: 'assign', to: request.to ? await this.nameOf(request.to) : null };
      case 'take':
      case 'wait':
      case 'reopen':
        return { act: request.act };
    }
  }

  locked(manager: EntityManager, number: number): Promise<IncidentEntity | null> {
    return manager.findOne(IncidentEntity, { where: { number }, lock: { mode: 'pessimistic_write' } });
  }

  /** Applies an act to a locked incident and writes it into the history. */
  async apply(
    manager: EntityManager,
    incident: IncidentEntity,
    act: DeskAct,
    context: ActContext,
  ): Promise<AppliedAct> {
    const before = stateOf(incident);
    // A deputy cannot decide about the movements of the person they stand in for.
    const own = [context.by.email, context.by.inPlaceOf].some(
      (address) => address?.toLowerCase() === incident.personAddress.toLowerCase(),
    );
    const result = applyAct(before, act, { name: context.by.name, own });
    if (result.status === 'refused') return result;
    await this.write(manager, incident, result.state, context.at);
    await this.remember(manager, incident, act, context);
    return { status: 'changed', version: incident.version + 1, before };
  }

  /** Puts an incident back to what it was before a decision in bulk. */
  async restore(
    manager: EntityManager,
    incident: IncidentEntity,
    before: DeskState,
    context: ActContext,
  ): Promise<void> {
    await this.write(manager, incident, before, context.at);
    await this.remember(manager, incident, null, context);
  }

  /** Writes an act into the history; null stands for putting back what a decision in bulk had changed. */
  private async remember(
    manager: EntityManager,
    { number }: IncidentEntity,
    act: DeskAct | null,
    { at, by, reason, bulk }: ActContext,
  ): Promise<void> {
    await manager.insert(HistoryEntity, {
      ...{ incidentNumber: number, at, actor: by.name, kind: 'act', act, text: reason },
      accountId: by.accountId || null,
      bulkId: bulk ?? null,
    });
  }

  private async write(
    manager: EntityManager,
    incident: IncidentEntity,
    state: DeskState,
    at: Date,
  ): Promise<void> {
    const { status, outcome, lookedFor, allRight, cause, assignee, severity, test } = state;
    const changed = { ...incident, status, severity };
    if (severity !== incident.severity) {
      changed.urgencyParts = withSeverity(incident.urgencyParts, severity);
      changed.openUrgencyParts =
        incident.openUrgencyParts && withSeverity(incident.openUrgencyParts, severity);
    }
    const wasDecided = incident.status === 'decided';
    await manager.update(
      IncidentEntity,
      { number: incident.number },
      {
        ...(status === 'decided' || severity !== incident.severity || wasDecided
          ? this.promises.aged(changed, at.getTime())
          : {}),
        ...{ status, outcome, lookedFor, allRight, cause, assignee, severity, test },
        // Whoever may not see silent rules sees the severity that somebody has set.
        openSeverity: severity === incident.severity ? incident.openSeverity : severity,
        decidedAt: status === 'decided' ? (wasDecided ? incident.decidedAt : at) : null,
        version: incident.version + 1,
      },
    );
    if (test !== incident.test) await manager.update(MovementEntity, { id: incident.movementId }, { test });
  }

  private async nameOf(email: string): Promise<string> {
    const holders = await this.accounts.holding('incidents.decide');
    const found = holders.find((account) => account.email.toLowerCase() === email.toLowerCase());
    if (!found) throw new AppError('not-found', 'Nobody with this address can take incidents.');
    return found.name;
  }
}

function stateOf(incident: IncidentEntity): DeskState {
  const { status, outcome, lookedFor, allRight, cause, assignee, severity, test } = incident;
  return { status, outcome, lookedFor, allRight, cause, assignee, severity, test };
}
