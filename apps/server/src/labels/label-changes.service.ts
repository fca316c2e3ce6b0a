import type { AroundMark, LabelChangePage, LabelChangeQuery, LabelChangeRow } from '@lantern/contracts';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { Between, Brackets, EntityManager, type SelectQueryBuilder } from 'typeorm';
import { Surroundings } from '../incidents/around/around.service.js';
import { likeAnywhere } from '../platform/database/like.js';
import { LabelChangeEntity } from './label-change.entity.js';

/** Rows of one answer; the count of all is beside them. */
const MOST_ROWS = 2_000;

/** Every change of the label of an item, with the reason. */
@Injectable()
export class LabelChangesService implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly surroundings: Surroundings,
  ) {}

  onModuleInit(): void {
    this.surroundings.alsoShow((address, { from, to }) => this.marksOf(address, from, to));
  }

  /** Changes by one person, for a time line. */
  private async marksOf(address: string, from: Date, to: Date): Promise<AroundMark[]> {
    const changes = await this.manager.find(LabelChangeEntity, {
      where: { by: address, at: Between(from, to) },
      order: { at: 'DESC' },
      take: MOST_ROWS,
    });
    return changes.map((change) => ({
      kind: 'label',
      at: change.at.toISOString(),
      item: change.item,
      before: change.before?.name ?? null,
      after: change.after?.name ?? null,
    }));
  }

  async record(manager: EntityManager, change: Omit<LabelChangeEntity, 'id'>): Promise<void> {
    await manager.save(manager.create(LabelChangeEntity, { ...change, item: change.item.slice(0, 500) }));
  }

  async list(query: LabelChangeQuery): Promise<LabelChangePage> {
    const rows = await this.filtered(query).orderBy('c.id', 'DESC').take(MOST_ROWS).getMany();
    const total = await this.filtered(query).getCount();
    const counts = new Map<string, number>();
    for (const [field, others] of [
      ['shift', { ...query, shift: undefined }],
      ['how', { ...query, how: undefined }],
    ] as const) {
      const found = await this.filtered(others as LabelChangeQuery)
        .select(`c.${field}`, 'value')
        .addSelect('COUNT(*)', 'count')
        .groupBy(`c.${field}`)
        .getRawMany<{ value: string; count: string }>();
      for (const { value, count } of found) counts.set(value, Number(count));
    }
    return { rows: rows.map(toChangeRow), total, counts: Object.fromEntries(counts) };
  }

  async ofItem(id: string): Promise<LabelChangeRow[]> {
    const rows = await this.manager.find(LabelChangeEntity, {
      where: { itemId: id },
      order: { id: 'DESC' },
      take: 100,
    });
    return rows.map(toChangeRow);
  }

  private filtered({
    shift,
    how,
    search,
    label,
    from,
    to,
  }: LabelChangeQuery): SelectQueryBuilder<LabelChangeEntity> {
    const query = this.manager.createQueryBuilder(LabelChangeEntity, 'c').where('1 = 1');
    if (shift?.length) query.andWhere('c.shift IN (:...shift)', { shift });
    if (how?.length) query.andWhere('c.how IN (:...how)', { how });
    if (search) {
      const like = likeAnywhere(search);
      query.andWhere(
        new Brackets((inner) =>
          inner.where('c.item LIKE :like').orWhere('c.by LIKE :like').orWhere('c.reason LIKE :like'),
        ),
        { like },
      );
    }
    if (from) query.andWhere('c.at >= :from', { from: new Date(from) });
    if (to) query.andWhere('c.at < :to', { to: new Date(to) });
    if (label)
      query.andWhere("(JSON_VALUE(c.before, '$.id') = :label OR JSON_VALUE(c.after, '$.id') = :label)", {
        label,
      });
    return query;
  }
}

export function toChangeRow(row: LabelChangeEntity): LabelChangeRow {
  const { id, at, by, how, shift, carrier, item, before, after, reason } = row;
  const short = (label: LabelChangeEntity['before']) => label && { name: label.name, rank: label.rank };
  return {
    id,
    at: at.toISOString(),
    by,
    how,
    shift,
    carrier,
    item,
    before: short(before),
    after: short(after),
    reason,
  };
}
