import {
  type IncidentOrder,
  type IncidentPage,
  type IncidentQuery,
  MAX_LISTED_INCIDENTS,
} from '@lantern/contracts';
import type { SelectQueryBuilder } from 'typeorm';
import type { EntityManager } from 'typeorm';
import { IncidentEntity, MatchEntity, MovementEntity } from './incident.entity.js';
import { toRow } from './incident.mapper.js';

type Builder = SelectQueryBuilder<IncidentEntity>;

/** Lists incidents by filters that add up; the totals count all of them, the rows the first few thousand. */
export async function queryIncidents(
  manager: EntityManager,
  query: IncidentQuery,
  silentToo: boolean,
): Promise<IncidentPage> {
  const builder = manager
    .createQueryBuilder(IncidentEntity, 'i')
    .innerJoin(MovementEntity, 'm', 'm.id = i.movementId');
  narrow(builder, query, silentToo);
  if (!silentToo) builder.andWhere('i.silent = false');
  const totals = await builder
    .clone()
    .select('COUNT(*)', 'total')
    .addSelect(`COALESCE(SUM(${seen('matches', silentToo)}), 0)`, 'matches')
    .getRawOne<{ total: string; matches: string }>();
  if (!silentToo) builder.addSelect('COALESCE(i.openUrgency, i.urgency)', 'seenUrgency');
  order(builder, query.order ?? 'urgency', silentToo);
  const incidents = await builder.take(MAX_LISTED_INCIDENTS).getMany();
  const movements = await movementsOf(manager, incidents);
  const rows = incidents.flatMap((incident) => {
    const movement = movements.get(incident.movementId);
    return movement ? [toRow(incident, movement, silentToo)] : [];
  });
  return { rows, total: Number(totals?.total ?? 0), matches: Number(totals?.matches ?? 0) };
}

/** A column as those see it who may not see silent matches. */
const seen = (column: string, silentToo: boolean): string =>
  silentToo
    ? `i.${column}`
    : `COALESCE(i.open${column[0]?.toUpperCase() ?? ''}${column.slice(1)}, i.${column})`;

function narrow(builder: Builder, query: IncidentQuery, silentToo: boolean): void {
  const show = query.show ?? 'open';
  if (show !== 'all') builder.andWhere(show === 'decided' ? "i.status = 'decided'" : "i.status <> 'decided'");
  if (query.severity?.length)
    builder.andWhere(`${seen('severity', silentToo)} IN (:...severity)`, { severity: query.severity });
  if (query.answer?.length)
    builder.andWhere(`${silentToo ? 'm.answer' : 'COALESCE(i.openAnswer, m.answer)'} IN (:...answer)`, {
      answer: query.answer,
    });
  if (query.department) builder.andWhere('m.department = :department', { department: query.department });
  if (query.since) builder.andWhere('i.at >= :since', { since: new Date(query.since) });
  if (query.pattern)
    builder.andWhere("JSON_SEARCH(i.counts, 'one', :pattern, NULL, '$[*].pattern') IS NOT NULL", {
      pattern: query.pattern,
    });
  if (query.policy) {
    const matched = builder
      .subQuery()
      .select('1')
      .from(MatchEntity, 'x')
      .where(
        `x.incidentNumber = i.number AND x.policyId = :policy${silentToo ? '' : ' AND x.silent = false'}`,
      )
      .getQuery();
    builder.andWhere(`EXISTS ${matched}`, { policy: query.policy });
  }
  if (query.cut)
    builder.andWhere(
      `EXISTS ${builder
        .subQuery()
        .select('1')
        .from(MatchEntity, 'y')
        .where(`y.incidentNumber = i.number AND y.cut = :cut${silentToo ? '' : ' AND y.silent = false'}`)
        .getQuery()}`,
      { cut: query.cut },
    );
  if (query.channel) builder.andWhere('m.channel = :channel', { channel: query.channel });
  if (query.reported) builder.andWhere('i.reported = true');
  if (query.search) {
    const like = `%${query.search.trim().replace(/[\\%_]/g, '\\$&')}%`;
    builder.andWhere(
      '(m.personName LIKE :like OR m.personAddress LIKE :like OR m.department LIKE :like OR m.recipients LIKE :like OR i.number = :exact)',
      {
        like,
        exact: /^\d{1,9}$/.test(query.search.trim()) ? Number(query.search.trim()) : 0,
      },
    );
  }
}

function order(builder: Builder, by: IncidentOrder, silentToo: boolean): void {
  if (by === 'urgency')
    builder.orderBy(silentToo ? 'i.urgency' : 'seenUrgency', 'DESC').addOrderBy('i.at', 'DESC');
  else builder.orderBy('i.at', by === 'newest' ? 'DESC' : 'ASC');
  builder.addOrderBy('i.number', 'DESC');
}

async function movementsOf(
  manager: EntityManager,
  incidents: readonly IncidentEntity[],
): Promise<Map<string, MovementEntity>> {
  if (incidents.length === 0) return new Map();
  const ids = incidents.map((incident) => incident.movementId);
  const movements = await manager
    .createQueryBuilder(MovementEntity, 'm')
    .where('m.id IN (:...ids)', { ids })
    .getMany();
  return new Map(movements.map((movement) => [movement.id, movement]));
}
