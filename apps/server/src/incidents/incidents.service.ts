import { SEALED_OF_MOVEMENT } from '../platform/keys/sealed-of-movement.js';
import { PublishedRevision } from '../published/published-revision.js';
import type { ActRequest, IncidentDetail } from '@lantern/contracts';
import { wordsFor } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { TwoPeople } from '../accounts/access/two-people.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { type Sight, sightOf } from '../platform/auth/sight.js';
import { CONFIG, type Config } from '../platform/config.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { unsealJson } from '../platform/sealing.js';
import { seenBy, verdictSeenBy } from '../published/silence.js';
import { type StoredEvidence, toEvidenceParts } from './evidence.js';
import { EvidenceEntity, HistoryEntity, IncidentEntity, MovementEntity } from './incident.entity.js';
import { toRow } from './incident.mapper.js';
import { Acts } from './acts.service.js';
import { Mentions } from './mentions.service.js';
import { movementKey } from '../platform/keys/movement-keys.js';
import { openTitle } from './titles.js';
import { openVerdict } from './verdicts.js';
import type { EvidencePart, PicturesView } from '@lantern/contracts';
import { AllFindings } from './kept/all-findings.service.js';
import { KeptCopies } from './kept/kept-copies.service.js';
import { Unmaskings } from './unmaskings.service.js';
import { demandVisible, visibleAmong, visibleIncidents } from './visible.js';

@Injectable()
export class IncidentsService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
    private readonly unmaskings: Unmaskings,
    private readonly copies: KeptCopies,
    private readonly allFindings: AllFindings,
    private readonly acts: Acts,
    private readonly mentions: Mentions,
    private readonly twoPeople: TwoPeople,
  ) {}

  async countOpen(caller: Caller): Promise<number> {
    const { sql, values } = visibleIncidents(sightOf(caller));
    const [row] = await this.manager.query<{ n: string }[]>(
      `SELECT COUNT(*) AS n FROM incident i WHERE i.status <> 'decided' AND ${sql}`,
      [...values],
    );
    return Number(row?.n ?? 0);
  }

  /** Whether a viewer may receive events about an incident. Events of deleted incidents go to viewers without limits. */
  async isShown(number: number, sight: Sight): Promise<boolean> {
    if ((await visibleAmong(this.manager, [number], sight)).has(number)) return true;
    return sight.limits === null && !(await this.manager.existsBy(IncidentEntity, { number }));
  }

  /** One incident with its evidence, masked unless `whole`. */
  async get(number: number, caller: Caller, whole = false): Promise<IncidentDetail> {
    const incident = await this.find(number, caller);
    const movement = await this.manager.findOneByOrFail(MovementEntity, { id: incident.movementId });
    const history = await this.manager.find(HistoryEntity, {
      where: { incidentNumber: number },
      order: { id: 'ASC' },
    });
    const document =
      movement.revision === null ? null : (await this.published.get(movement.revision)).document;
    const policies = (document?.policies ?? []).map((policy) => seenBy(policy, caller));
    const { lookedFor, allRight, cause } = incident;
    const key = await movementKey(this.manager, this.config.keys, movement.id);
    const verdict = await openVerdict(key, incident);
    const decidedBy = verdict.decidedBy;
    const rule = policies
      .find((policy) => policy.id === decidedBy?.policy)
      ?.rules.find((candidate) => candidate.id === decidedBy?.rule);
    const textId = verdict.answer === 'note' ? null : rule?.bands[decidedBy?.band ?? 0]?.text;
    const text = document?.texts.find(({ id }) => id === textId);
    const evidence = await this.evidence(key, incident.movementId);
    return {
      ...toRow(incident, movement, {
        seesSilent: sightOf(caller).silent,
        now: new Date(),
        title: await openTitle(key, movement),
      }),
      firstSeverity: incident.firstSeverity ?? incident.severity,
      manager: movement.manager,
      urgencyParts: (sightOf(caller).silent ? null : incident.openUrgencyParts) ?? incident.urgencyParts,
      lookedFor,
      allRight,
      cause,
      revision: movement.revision ?? 0,
      verdict: verdictSeenBy(verdict, caller, document?.policies ?? []),
      policies: policies.filter((policy) => verdict.trace.some((trace) => trace.policy === policy.id)),
      parts: evidence ? toEvidenceParts(evidence, whole) : [],
      evidenceDeleted: evidence === null,
      ...(await this.copies.of(incident.movementId)),
      masked: !whole,
      way: movement.way,
      recipientAddresses: movement.recipients,
      notice: incident.told ?? (text ? wordsFor(text, 'en') : null),
      history: history.map(toHistory),
    };
  }

  /** Applies an analyst's act; refused when somebody else was quicker, so that no decision is overwritten unseen. */
  async act(
    number: number,
    request: ActRequest,
    caller: Caller,
    at: Date = new Date(),
  ): Promise<IncidentDetail> {
    const act = await this.acts.read(request);
    await this.manager.transaction(async (manager) => {
      const incident = await this.acts.locked(manager, number);
      if (!incident) throw notFound(number);
      await demandVisible(manager, number, sightOf(caller));
      if (incident.version !== request.version) throw await this.changedMeanwhile(manager, number);
      const result = await this.acts.apply(manager, incident, act, {
        ...{ by: caller, at, reason: request.reason ?? null },
      });
      if (result.status === 'refused')
        throw new AppError('act-refused', `That is not possible now: ${result.reason}.`, {
          details: { reason: result.reason },
        });
    });
    this.live.publish({ kind: 'incident-changed', number });
    return this.get(number, caller);
  }

  /** Keeps a note. Colleagues whom it names by their address, as in `@ada@merrow.example`, are told at once. */
  async note(number: number, text: string, caller: Caller): Promise<IncidentDetail> {
    await this.find(number, caller);
    await this.manager.transaction(async (manager) => {
      await manager.insert(HistoryEntity, {
        incidentNumber: number,
        at: new Date(),
        actor: caller.name,
        accountId: caller.accountId || null,
        kind: 'note',
        act: null,
        text,
      });
      await this.mentions.tell(manager, number, { text, caller });
    });
    this.live.publish({ kind: 'incident-changed', number });
    return this.get(number, caller);
  }

  /** Shows values whole; who asked and why is written down before anything is shown. */
  async unmask(number: number, reason: string, caller: Caller): Promise<IncidentDetail> {
    await this.unmasked(number, reason, caller);
    return this.get(number, caller, true);
  }

  /** The content as it was, as a ZIP archive; written down like an unmasking. */
  async original(number: number, reason: string, caller: Caller): Promise<Buffer> {
    const { movementId } = await this.find(number, caller);
    const { original } = await this.copies.of(movementId);
    if (!original?.kept) throw new AppError('not-found', 'The original of this incident is not kept.');
    await this.unmasked(number, `Original downloaded: ${reason}`, caller);
    const archive = await this.copies.original(movementId);
    if (!archive) throw new AppError('not-found', 'The original of this incident was deleted meanwhile.');
    return archive;
  }

  /** What stands around every finding, masked. */
  async findings(number: number, caller: Caller): Promise<EvidencePart[]> {
    const { movementId, revision } = await this.find(number, caller);
    return this.allFindings.of({ movementId, revision });
  }

  /** What the screen showed; written down like an unmasking. */
  async pictures(number: number, reason: string, caller: Caller): Promise<PicturesView> {
    const { movementId } = await this.find(number, caller);
    const { pictures } = await this.copies.of(movementId);
    if (pictures.length === 0) throw new AppError('not-found', 'There are no pictures of this incident.');
    await this.unmasked(number, `Pictures shown: ${reason}`, caller);
    return { pictures: await this.copies.pictures(movementId) };
  }

  /** Writes down who sees content whole and why; two people where it is of a silent rule and that is asked for. */
  private async unmasked(number: number, reason: string, caller: Caller): Promise<void> {
    const { silent } = await this.find(number, caller);
    if (silent) await this.twoPeople.demand('unmask-silent', `incident ${number}`, caller, WAITS);
    await this.manager.transaction((manager) =>
      this.unmaskings.record(manager, number, { reason, caller, at: new Date() }),
    );
    this.live.publish({ kind: 'incident-changed', number });
  }

  /** The incident; throws `not-found` if it does not exist or the caller may not see it. */
  private async find(number: number, caller: Caller): Promise<IncidentEntity> {
    await demandVisible(this.manager, number, sightOf(caller));
    const incident = await this.manager.findOneBy(IncidentEntity, { number });
    if (!incident) throw notFound(number);
    return incident;
  }

  /** Null where it was deleted since: each incident is recorded with some. */
  private async evidence(key: Buffer, movementId: string): Promise<StoredEvidence | null> {
    const row = await this.manager.findOneBy(EvidenceEntity, { movementId });
    if (!row) return null;
    const opened = await unsealJson(key, SEALED_OF_MOVEMENT.evidence.place(movementId), row.sealed);
    return opened as StoredEvidence;
  }

  private async changedMeanwhile(manager: EntityManager, number: number): Promise<AppError> {
    const last = await manager.findOne(HistoryEntity, {
      where: { incidentNumber: number },
      order: { id: 'DESC' },
    });
    return new AppError(
      'changed-meanwhile',
      `${last?.actor ?? 'Somebody'} decided on this incident meanwhile. Look at it before deciding again.`,
      { details: { by: last?.actor ?? '' } },
    );
  }
}

function toHistory({ at, actor, kind, act, text, bulkId }: HistoryEntity): IncidentDetail['history'][number] {
  return { at: at.toISOString(), by: actor, kind, act, text, bulk: bulkId ?? null };
}

const WAITS =
  'Your request is kept for 30 minutes. No values are shown yet. A second person with the same permission must also ask to see this incident.';

function notFound(number: number): AppError {
  return new AppError('not-found', `There is no incident ${number}.`);
}
