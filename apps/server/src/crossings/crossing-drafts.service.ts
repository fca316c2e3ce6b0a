import { randomUUID } from 'node:crypto';
import { MAX_SERVICES, shapeFault } from '@lantern/contracts';
import type { CrossingKind, Crossings, CrossingsView } from '@lantern/contracts/crossings';
import {
  type CrossingSet,
  crossingProblems,
  type FlowService,
  type CrossingProblem,
  type Workspace,
} from '@lantern/core/automations';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { LabelDraftsService } from '../labels/label-drafts.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { crossingsOf } from '../published/published-crossings.js';
import { stateOf } from '../published/draft-state.js';
import { PublishedRevision } from '../published/published-revision.js';
import { type CrossingPart, CrossingPartEntity } from './crossing.entity.js';

const NOUN: Readonly<Record<CrossingKind, string>> = {
  service: 'service',
  workspace: 'workspace',
  'crossing-set': 'set',
};
const MOST: Readonly<Record<CrossingKind, number>> = {
  service: MAX_SERVICES,
  workspace: 500,
  'crossing-set': 100,
};

/** What authors are writing about automations: the register of services, workspaces, and what may cross. */
@Injectable()
export class CrossingDrafts {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly labels: LabelDraftsService,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
  ) {}

  async all(): Promise<Crossings> {
    return crossingsFrom(await this.rows());
  }

  /** What is wrong with the sets of a document. */
  async problems(crossings: Crossings): Promise<CrossingProblem[]> {
    return [...(await this.problemsBySet(crossings)).values()].flat();
  }

  async list(): Promise<CrossingsView> {
    const rows = await this.rows();
    const all = crossingsFrom(rows);
    const before = crossingsOf(this.published.current?.document);
    const uses = await this.uses();
    const problems = await this.problemsBySet(all);
    const stamp = (thing: { readonly id: string }, known: readonly { readonly id: string }[]) => {
      const row = rows.find(({ id }) => id === thing.id);
      return {
        ...{ version: row?.version ?? 1, state: stateOf(thing, known), updatedBy: row?.updatedBy ?? '' },
        updatedAt: (row?.updatedAt ?? new Date(0)).toISOString(),
      };
    };
    return {
      services: all.services.map((service) => ({
        ...{ service, ...stamp(service, before.services), uses: uses.get(service.id) ?? 0 },
      })),
      workspaces: all.workspaces.map((workspace) => ({ workspace, ...stamp(workspace, before.workspaces) })),
      sets: all.sets.map((set) => ({
        ...{ set, ...stamp(set, before.sets), problems: problems.get(set.id) ?? [] },
      })),
    };
  }

  /** Saves a part; a save over somebody else's is refused. A set remembers which operations there are by now. */
  async save(
    kind: CrossingKind,
    id: string | null,
    { definition, version }: { readonly definition: object; readonly version?: number | undefined },
    caller: Pick<Caller, 'name'>,
  ): Promise<{ readonly id: string }> {
    const part = await this.tidy(kind, definition);
    const rows = (await this.rows()).filter((row) => row.kind === kind);
    const name = part.name.toLowerCase();
    if (rows.some((row) => row.id !== id && row.definition.name.toLowerCase() === name))
      throw new AppError('name-taken', `"${part.name}" exists already. Choose another name.`, {
        details: { name: part.name },
      });
    const stamp = { updatedAt: new Date(), updatedBy: caller.name };
    if (id === null) {
      if (rows.length >= MOST[kind])
        throw new AppError('too-many', `There can be at most ${MOST[kind]} of these. Nothing was added.`);
      const fresh = randomUUID();
      await this.manager.insert(CrossingPartEntity, {
        id: fresh,
        kind,
        definition: part,
        version: 1,
        ...stamp,
      });
      this.live.publish({ kind: 'drafts-changed' });
      return { id: fresh };
    }
    const known = rows.find((row) => row.id === id);
    if (!known) throw new AppError('not-found', `This ${NOUN[kind]} does not exist.`);
    const changed = await this.manager.update(
      CrossingPartEntity,
      { id, version: version ?? known.version },
      { definition: part as object, version: known.version + 1, ...stamp },
    );
    if (!changed.affected)
      throw new AppError(
        'changed-meanwhile',
        `${known.updatedBy} changed this ${NOUN[kind]} in the meantime. Your version was not saved.`,
        { details: { by: known.updatedBy, version: known.version } },
      );
    this.live.publish({ kind: 'drafts-changed' });
    return { id };
  }

  async remove(kind: CrossingKind, id: string): Promise<void> {
    const gone = await this.manager.delete(CrossingPartEntity, { id, kind });
    if (!gone.affected) throw new AppError('not-found', `This ${NOUN[kind]} does not exist.`);
    this.live.publish({ kind: 'drafts-changed' });
  }

  /** Puts a whole file in the place of the drafts. */
  async replace(crossings: Crossings, caller: Pick<Caller, 'name'>, manager = this.manager): Promise<void> {
    const stamp = { version: 1, updatedAt: new Date(), updatedBy: caller.name };
    const parts: readonly (readonly [CrossingKind, readonly ({ readonly id: string } & CrossingPart)[]])[] = [
      ['service', crossings.services],
      ['workspace', crossings.workspaces],
      ['crossing-set', crossings.sets],
    ];
    await manager.createQueryBuilder().delete().from(CrossingPartEntity).execute();
    for (const [kind, things] of parts)
      for (const { id, ...definition } of things)
        await manager.insert(CrossingPartEntity, { id, kind, definition: definition as object, ...stamp });
    this.live.publish({ kind: 'drafts-changed' });
  }

  private async tidy(kind: CrossingKind, definition: object): Promise<CrossingPart> {
    const fault = shapeFault(kind, definition);
    if (fault)
      throw new AppError(
        'invalid-request',
        `${fault.path.join('.') || 'It'} ${fault.message}. Nothing was saved.`,
      );
    const part = definition as CrossingPart;
    const named = { ...part, name: part.name.trim() };
    if (kind !== 'crossing-set') return named;
    const { services } = await this.all();
    return { ...(named as Omit<CrossingSet, 'id'>), knownOperations: operationsBy(services) };
  }

  private rows(): Promise<CrossingPartEntity[]> {
    return this.manager.find(CrossingPartEntity, { order: { id: 'ASC' } });
  }

  private async problemsBySet({
    services,
    workspaces,
    sets,
  }: Crossings): Promise<ReadonlyMap<string, CrossingProblem[]>> {
    const { labels } = await this.labels.set();
    const known = new Set(labels.map(({ id }) => String(id)));
    return new Map(
      sets.map((set) => {
        const otherNames = sets.filter(({ id }) => id !== set.id).map(({ name }) => name);
        return [set.id, crossingProblems(set, { services, workspaces, labels: known, otherNames })];
      }),
    );
  }

  /** How many automations use each service. */
  private async uses(): Promise<ReadonlyMap<string, number>> {
    const rows = await this.manager.query<{ service: string; uses: string }[]>(
      `SELECT s.service AS service, COUNT(DISTINCT a.id) AS uses FROM automation a,
         JSON_TABLE(a.definition, '$.steps[*]' COLUMNS (service varchar(120) PATH '$.service')) s
       GROUP BY s.service`,
    );
    return new Map(rows.map(({ service, uses }) => [service, Number(uses)]));
  }
}

const operationsBy = (services: readonly FlowService[]): CrossingSet['knownOperations'] =>
  Object.fromEntries(services.map(({ id, operations }) => [id, operations.map((each) => each.id)]));

function crossingsFrom(rows: readonly CrossingPartEntity[]): Crossings {
  const of = <Thing>(kind: CrossingKind): Thing[] =>
    rows
      .filter((row) => row.kind === kind)
      .sort((left, right) => left.definition.name.localeCompare(right.definition.name, 'en'))
      .map(({ id, definition }) => ({ ...definition, id }) as Thing);
  return {
    services: of<FlowService>('service'),
    workspaces: of<Workspace>('workspace'),
    sets: of<CrossingSet>('crossing-set'),
  };
}
