import type { ItemRow, ItemsExportQuery } from '@lantern/contracts/discovery';
import { Injectable } from '@nestjs/common';
import { csv } from '../../incidents/export/export-rows.js';
import { Trail } from '../../platform/trail/trail.service.js';
import { Items } from './items.service.js';

const PAGE = 1_000;

const COLUMNS: readonly (readonly [string, (row: ItemRow) => string | number | boolean | null])[] = [
  ['place', ({ place }) => place.name],
  ['path', ({ path }) => path],
  ['bytes', ({ bytes }) => bytes],
  ['changed', ({ changedAt }) => changedAt],
  ['owner', ({ owner }) => owner],
  ['state', ({ state }) => state],
  ['reason', ({ reason }) => reason],
  [
    'found',
    ({ found }) => found.map(({ count, name, certainty }) => `${count} ${name} (${certainty})`).join(', '),
  ],
  ['label', ({ label }) => label],
  ['suggested', ({ suggested }) => suggested],
  ['reach', ({ reach }) => reach],
  ['misplaced', ({ misplaced }) => misplaced],
  ['quarantined', ({ quarantined }) => quarantined],
  ['copies', ({ copies }) => copies],
];

/** A file of exactly the items that are listed, page after page: any number of rows, never all of them in memory. */
@Injectable()
export class ItemsExport {
  constructor(
    private readonly items: Items,
    private readonly trail: Trail,
  ) {}

  /** The pieces of the file. Throws before the first one where the filter is wrong. */
  begin(query: ItemsExportQuery, by: string): AsyncGenerator<string> {
    this.items.readFilter(query.filter ?? '');
    return this.pieces(query, by);
  }

  private async *pieces({ filter, order, format }: ItemsExportQuery, by: string): AsyncGenerator<string> {
    if (format === 'csv') yield `${COLUMNS.map(([name]) => name).join(',')}\r\n`;
    let rows = 0;
    let after: string | undefined;
    try {
      do {
        const asked = {
          ...(filter ? { filter } : {}),
          ...(order ? { order } : {}),
          ...(after ? { after } : {}),
        };
        const page = await this.items.page(asked, PAGE);
        yield format === 'csv'
          ? csv(page.items.map((row) => COLUMNS.map(([, cell]) => cell(row))))
          : page.items.map((row) => `${JSON.stringify(row)}\n`).join('');
        rows += page.items.length;
        after = page.next ?? undefined;
      } while (after !== undefined);
    } finally {
      // Also when whoever reads it leaves in the middle: that part has left the workbench.
      await this.trail.add({
        actor: by,
        action: 'GET /discovery/items/export',
        target: format,
        facts: { rows: String(rows), filter: (filter ?? '').slice(0, 500) },
      });
    }
  }
}
