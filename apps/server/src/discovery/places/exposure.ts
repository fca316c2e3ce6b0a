import {
  type Exposure,
  EXPOSURE_PARTS,
  type ExposurePartCode,
  exposureOfSums,
  type ExposureSum,
  OLD_AFTER_DAYS,
} from '@lantern/core/discovery';
import type { EntityManager } from 'typeorm';
import type { Sql } from '../../platform/database/sql.js';

/** Conditions of the parts over `discovery_item` i and its place p: held to {@link partsOf} of the core by a test. */
const CONDITIONS: Readonly<Record<ExposurePartCode, string>> = {
  'open-with-link': "i.isSensitive AND i.reach = 'anybody-with-link'",
  'open-outside': "i.isSensitive AND i.reach = 'outside'",
  'open-inside': "i.isSensitive AND i.reach = 'organisation'",
  unmanaged: 'i.isSensitive AND p.unmanaged',
  'without-label': 'i.isSensitive AND i.labelRank IS NULL',
  'above-place': 'i.isSensitive AND i.labelRank > l.labelRank',
  old: 'i.isSensitive AND i.changedAt < ?',
  misplaced: "i.misplaced AND i.state <> 'gone'",
};

/** Ranks of labels by id, as a table of values. */
export interface LabelRank {
  readonly id: string;
  readonly rank: number;
}

/** Labels by id as a table of values, joined to the label of place p. */
function labelsOf(ranks: readonly LabelRank[]): Sql {
  return {
    sql: ranks.length
      ? `LEFT JOIN (${ranks.map((_, at) => (at === 0 ? 'SELECT ? AS id, ? AS labelRank' : 'SELECT ?, ?')).join(' UNION ALL ')}) l ON l.id = p.labelId`
      : 'LEFT JOIN (SELECT NULL AS id, NULL AS labelRank) l ON FALSE',
    values: ranks.flatMap(({ id, rank }) => [id, rank]),
  };
}

const oldBefore = (now: Date): Date => new Date(now.getTime() - OLD_AFTER_DAYS * 86_400_000);

/** The condition that an item i of a place p outruns its guard in any part, and the join that it needs. */
export function exposedItems(ranks: readonly LabelRank[], now: Date): Sql & { readonly labels: Sql } {
  const any = EXPOSURE_PARTS.map((code) => `(${CONDITIONS[code]}) IS TRUE`);
  return {
    sql: `(NOT i.quarantined AND i.state <> 'gone' AND (${any.join(' OR ')}))`,
    values: any.filter((each) => each.includes('?')).map(() => oldBefore(now)),
    labels: labelsOf(ranks),
  };
}

/** How far each place outruns its guard, by its id. */
export async function exposures(
  manager: EntityManager,
  ranks: readonly LabelRank[],
  now: Date,
): Promise<ReadonlyMap<string, Exposure>> {
  const old = oldBefore(now);
  const columns = EXPOSURE_PARTS.flatMap((code, at) => {
    const holds = `(${CONDITIONS[code]}) IS TRUE AND NOT i.quarantined`;
    // What should not lie there counts as one, whatever it holds.
    const holding = code === 'misplaced' ? 'GREATEST(i.holding, 1)' : 'i.holding';
    return [`SUM(${holds}) AS n${at}`, `SUM(IF(${holds}, ${holding}, 0)) AS h${at}`];
  });
  const labels = labelsOf(ranks);
  const times = columns.filter((column) => column.includes('?')).map(() => old);
  const rows = await manager.query<Record<string, string>[]>(
    `SELECT i.placeId AS placeId, ${columns.join(', ')}
     FROM discovery_place p STRAIGHT_JOIN discovery_item i FORCE INDEX (discovery_item_sums) ON i.placeId = p.id ${labels.sql}
     WHERE i.isSensitive OR i.misplaced GROUP BY i.placeId`,
    [...times, ...labels.values],
  );
  return new Map(
    rows.map((row) => {
      const sums = EXPOSURE_PARTS.map((code, at): ExposureSum => {
        return { code, items: Number(row[`n${at}`]), holding: Number(row[`h${at}`]) };
      });
      return [String(row['placeId']), exposureOfSums(sums)];
    }),
  );
}
