import { SEALED_OF_MOVEMENT } from '../platform/keys/sealed-of-movement.js';
import {
  incidentOf,
  type IncidentSummary,
  type JoinedCase,
  reportedIncident,
  withAge,
} from '@lantern/core/incidents';
import type { OwnPattern } from '@lantern/core/detection';
import { type InspectedMovement } from '@lantern/core/movement';
import type { PolicySet, Severity, Verdict } from '@lantern/core/policy';
import { Inject, Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { MatchMails } from './notice/match-mails.service.js';
import type { InspectedItemPart } from '@lantern/files/inspect';
import { JournalEntity } from '../journal/journal.entity.js';
import { JournalService } from '../journal/journal.service.js';
import { CONFIG, type Config } from '../platform/config.js';
import { insertOnly } from '../platform/database/insert-only.js';
import { sealJson } from '../platform/sealing.js';
import { Cases, signatureBytes } from '../incidents/alike/cases.service.js';
import { toStoredEvidence } from '../incidents/evidence.js';
import {
  EvidenceEntity,
  HistoryEntity,
  IncidentEntity,
  MatchEntity,
  MovementEntity,
} from '../incidents/incident.entity.js';
import { KeptCopies, NO_COPIES, type PreparedCopies } from '../incidents/kept/kept-copies.service.js';
import type { ContentAsItWas, Picture } from '../incidents/kept/packing.js';
import { KnownNames } from '../incidents/known-names.service.js';
import { sealTitle, titleWords } from '../incidents/titles.js';
import { sealVerdict } from '../incidents/verdicts.js';
import type { WrappedKey } from '../platform/keys/key-ring.js';
import { keepKeys } from '../platform/keys/movement-keys.js';
import { type KeptValues, PastAmounts } from './past/past-amounts.service.js';
import { PromisesService } from '../incidents/promises.service.js';
import { TraitEntity } from '../incidents/queue/trait.entity.js';
import { Routing } from '../response/routing/routing.service.js';
import { type Likeness, likenessOf, namesOf, sharedColumns, titleOf, traitsOf } from './record-facts.js';
import {
  insertHashes,
  insertTraits,
  keepsExcerpts,
  keepsOriginal,
  matchesOf,
  type NewIncident,
  toIncident,
  toMovement,
} from './record-rows.js';
import { routingFacts } from './routing-facts.js';

/** A judged movement, ready to be written down. */
export interface JudgedMovement {
  readonly movement: InspectedMovement;
  readonly person: { readonly name: string; readonly department: string };
  readonly at: Date;
  readonly inspected: readonly InspectedItemPart[];
  readonly verdict: Verdict;
  readonly revision: number | null;
  readonly contentDigest: string | null;
  /** What the person is told; left out or null where nobody is. */
  readonly notice?: { readonly text: string } | null;
  /** What the person did, where the channel tells. */
  readonly activity?: string;
  /** Address of the person's manager, where the directory names one. */
  readonly manager?: string | null;
  /** Another system that found it; our rules were not asked then. Left out for what they were asked about. */
  readonly reportedBy?: { readonly name: string; readonly severity: Severity };
  /** By which it was judged. */
  readonly set: PolicySet;
  /** Own patterns of that set: their names stand in filters. */
  readonly ownPatterns: readonly OwnPattern[];
}

/** What is written down of a movement, sealed. */
export interface PreparedRecord {
  readonly movementId: string;
  /** The data key that everything of it is sealed with. */
  readonly dataKey: WrappedKey;
  /** Null for what another system reports: its words are no movement that could be judged again. */
  readonly journal: JournalEntity | null;
  /** Null where no rule held and no label forbade anything: then there is no incident. */
  readonly summary: IncidentSummary | null;
  readonly evidence: Buffer | null;
  readonly verdict: Buffer | null;
  /** The title, sealed, and the digests of its words. */
  readonly title: { readonly sealed: Buffer | null; readonly words: readonly string[] };
  /** By what the incident is found again; null where there is none. */
  readonly likeness: Likeness | null;
  readonly copies: PreparedCopies;
  /** Its values, hashed, for the stretches of time after it. */
  readonly values: readonly KeptValues[];
}

@Injectable()
export class RecorderService {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly journal: JournalService,
    private readonly mails: MatchMails,
    private readonly names: KnownNames,
    private readonly cases: Cases,
    private readonly promises: PromisesService,
    private readonly routing: Routing,
    private readonly past: PastAmounts,
    private readonly copies: KeptCopies,
  ) {}

  /** Seals what is kept of a movement, before the transaction that writes it down; its content too, where it was given. */
  async prepare(
    movementId: string,
    judged: JudgedMovement,
    content?: ContentAsItWas & { readonly pictures?: readonly Picture[] | undefined },
  ): Promise<PreparedRecord> {
    const { movement, revision } = judged;
    const texts = judged.inspected.map(({ text }) => text);
    const { key, wrapped: dataKey } = this.config.keys.fresh(movementId);
    const journal = judged.reportedBy
      ? null
      : await this.journal.sealed({ id: movementId, key, movement, texts, revision });
    const summary = judged.reportedBy
      ? reportedIncident(judged.movement, judged.reportedBy.severity)
      : incidentOf(judged.movement, judged.verdict);
    const title = await this.titled(key, movementId, judged);
    const values = judged.reportedBy ? [] : await this.past.hashed(movement);
    const copied = summary && content && keepsOriginal(judged);
    const copies = copied
      ? await this.copies.prepare({ movementId, key }, movement.channel, content)
      : NO_COPIES;
    const kept = { movementId, dataKey, journal, title, values, copies };
    if (!summary) return { ...kept, summary, evidence: null, verdict: null, likeness: null };
    const evidence = toStoredEvidence(judged.inspected, keepsExcerpts(judged));
    const place = SEALED_OF_MOVEMENT.evidence.place(movementId);
    return {
      ...kept,
      summary,
      evidence: await sealJson(key, place, evidence),
      verdict: await sealVerdict(key, movementId, judged.verdict),
      likeness: likenessOf(this.config.keys.installation, judged, summary),
    };
  }

  /** Writes movement, matches, incident and evidence within the caller's transaction. Gives the incident's number. */
  async record(
    manager: EntityManager,
    judged: JudgedMovement,
    { movementId, summary, evidence, verdict, likeness, ...kept }: PreparedRecord,
  ): Promise<number | null> {
    const traits = traitsOf(judged, summary, kept.title.words);
    await this.recordMovement(manager, judged, { movementId, ...kept });
    if (!summary || !evidence || !verdict || !likeness) {
      await insertTraits(manager, traits, { movementId, incidentNumber: null });
      return null;
    }
    const person = judged.movement.sender.address;
    const incident = this.withPromise(toIncident(movementId, judged, summary), judged.at);
    const { silent } = incident;
    const joined = await this.cases.find(manager, { ...likeness, person, silent, at: judged.at });
    const incidentNumber = await insertOnly(manager, IncidentEntity, [
      {
        ...incident,
        sealedVerdict: verdict,
        caseNumber: joined?.case ?? null,
        caseValues: likeness.values.length,
        signature: likeness.signature && signatureBytes(likeness.signature),
        signatureSize: likeness.textSize,
        alikeKey: likeness.alikeKey,
      },
    ]);
    await manager.update(MovementEntity, { id: movementId }, { incidentNumber });
    await insertTraits(manager, traits, { movementId, incidentNumber });
    await insertHashes(manager, 'alike_band', incidentNumber, likeness.bands);
    await insertHashes(manager, 'case_value', incidentNumber, likeness.values);
    await this.names.remember(manager, namesOf(judged, summary));
    await insertOnly(manager, MatchEntity, matchesOf(movementId, incidentNumber, summary));
    await insertOnly(manager, EvidenceEntity, [{ movementId, sealed: evidence }]);
    await this.copies.write(manager, kept.copies);
    await insertOnly(manager, HistoryEntity, [
      { incidentNumber, at: judged.at, actor: 'Uncut Lantern', kind: 'recorded', act: null, text: null },
    ]);
    if (joined) await this.join(manager, incidentNumber, joined, judged.at);
    const facts = routingFacts(incident, { number: incidentNumber, traits, names: this.names });
    await this.routing.route(manager, incidentNumber, { ...facts, at: judged.at });
    await this.mails.tell(manager, {
      incident: incidentNumber,
      at: judged.at,
      matches: summary.matches,
      set: judged.set,
    });
    return incidentNumber;
  }

  /** What is written down of every movement, whether rules held or not. */
  private async recordMovement(
    manager: EntityManager,
    judged: JudgedMovement,
    {
      movementId,
      dataKey,
      journal,
      title,
      values,
    }: Pick<PreparedRecord, 'movementId' | 'dataKey' | 'journal' | 'title' | 'values'>,
  ): Promise<void> {
    await keepKeys(manager, this.config.keys, [dataKey]);
    await insertOnly(manager, MovementEntity, [
      { ...toMovement(movementId, judged, sharedColumns(judged)), title: title.sealed },
    ]);
    if (journal) await insertOnly(manager, JournalEntity, [journal]);
    const { sender } = judged.movement;
    await this.past.keep(manager, [{ movementId, address: sender.address, at: judged.at, values }]);
  }

  /** Writes many movements without incidents at once, as the weeks before a demo are. Throws where one has an incident. */
  async recordQuiet(
    manager: EntityManager,
    quiet: readonly { readonly judged: JudgedMovement; readonly recorded: PreparedRecord }[],
  ): Promise<void> {
    if (quiet.some(({ recorded }) => recorded.summary))
      throw new Error('A movement with an incident is not quiet');
    if (quiet.length === 0) return;
    await keepKeys(
      manager,
      this.config.keys,
      quiet.map(({ recorded }) => recorded.dataKey),
    );
    await insertOnly(
      manager,
      MovementEntity,
      quiet.map(({ judged, recorded: { movementId, title } }) => ({
        ...toMovement(movementId, judged, sharedColumns(judged)),
        title: title.sealed,
      })),
    );
    await insertOnly(
      manager,
      JournalEntity,
      quiet.flatMap(({ recorded }) => recorded.journal ?? []),
    );
    await this.past.keep(
      manager,
      quiet.map(({ judged, recorded: { movementId, values } }) => ({
        ...{ movementId, address: judged.movement.sender.address, at: judged.at, values },
      })),
    );
    const traits = quiet.flatMap(({ judged, recorded: { movementId, title } }) =>
      traitsOf(judged, null, title.words).map((trait) => ({ movementId, incidentNumber: null, ...trait })),
    );
    await insertOnly(manager, TraitEntity, traits);
  }

  private async titled(
    key: Buffer,
    movementId: string,
    judged: JudgedMovement,
  ): Promise<PreparedRecord['title']> {
    const title = titleOf(judged);
    return {
      sealed: await sealTitle(key, movementId, title),
      words: title === null ? [] : titleWords(this.config.keys.installation, title),
    };
  }

  /** With the time promised for it, and the urgency that its age adds by now. */
  private withPromise(incident: NewIncident, at: Date): NewIncident {
    // What is recorded late, as the demo's past is, has its age already.
    const { points, ...times } = this.promises.promised(incident, Math.max(Date.now(), at.getTime()));
    const urgencyParts = withAge(incident.urgencyParts, points);
    const openUrgencyParts = incident.openUrgencyParts && withAge(incident.openUrgencyParts, points);
    return {
      ...incident,
      ...times,
      urgencyParts,
      urgency: urgencyParts.total,
      openUrgencyParts,
      openUrgency: openUrgencyParts?.total ?? null,
    };
  }

  private async join(
    manager: EntityManager,
    incidentNumber: number,
    joined: JoinedCase,
    at: Date,
  ): Promise<void> {
    await this.cases.open(manager, joined);
    await manager.insert(HistoryEntity, {
      ...{ incidentNumber, at, actor: 'Uncut Lantern', kind: 'case', act: null },
      text: JSON.stringify({ like: joined.like, shared: joined.sharedValues, text: joined.textLikeness }),
    });
  }
}
