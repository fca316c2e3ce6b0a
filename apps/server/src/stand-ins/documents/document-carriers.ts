import { Injectable, type OnModuleInit } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { LabelCarriers } from '../../labels/label-carriers.js';
import { DocumentEntity } from './document.entity.js';

/** Tells the labels how many documents carry each of them. */
@Injectable()
export class DocumentCarriers implements OnModuleInit {
  constructor(private readonly carriers: LabelCarriers) {}

  onModuleInit(): void {
    this.carriers.countBy((manager) => countByLabel(manager));
  }
}

async function countByLabel(manager: EntityManager): Promise<Map<string, number>> {
  const rows = await manager
    .createQueryBuilder(DocumentEntity, 'd')
    .select("JSON_VALUE(d.label, '$.id')", 'label_id')
    .addSelect('COUNT(*)', 'count')
    .where('d.label IS NOT NULL')
    .groupBy('label_id')
    .getRawMany<{ label_id: string; count: string }>();
  return new Map(rows.map((row) => [row.label_id, Number(row.count)]));
}
