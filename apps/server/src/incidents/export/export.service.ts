import { type ExportQuery, type ListPage, type ListQuery, MAX_PAGE } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { AppError } from '../../platform/errors/app-error.js';
import { Trail } from '../../platform/trail/trail.service.js';
import type { Sight } from '../../platform/auth/sight.js';
import { Queue } from '../queue/queue.service.js';
import { type RowWriter, writerOf } from './export-rows.js';

/** A file of exactly what is listed, page after page: any number of rows, never all of them in memory. */
@Injectable()
export class Exports {
  constructor(
    private readonly queue: Queue,
    private readonly trail: Trail,
  ) {}

  /** The writer and the pieces of an export. Throws before the first piece where the filter or format is wrong. */
  begin(
    query: ExportQuery,
    sight: Sight,
    by: string,
  ): { readonly writer: RowWriter; readonly pieces: AsyncGenerator<string> } {
    this.queue.read(query.filter);
    const writer = writerOf(query.listed, query.format);
    if (!writer)
      throw new AppError(
        'invalid-request',
        'Only incidents can be written as OCSF findings. Choose CSV or JSON.',
      );
    return { writer, pieces: this.pieces(query, sight, { writer, by }) };
  }

  private async *pieces(
    query: ExportQuery,
    sight: Sight,
    { writer, by }: { readonly writer: RowWriter; readonly by: string },
  ): AsyncGenerator<string> {
    yield writer.head;
    let rows = 0;
    let after: string | undefined;
    // One instant for the whole file: a rolling filter must not move on while it is written.
    const now = new Date();
    try {
      do {
        const { filter, order } = query;
        const page = await this.page(
          query.listed,
          { filter, order, after, limit: MAX_PAGE } as ListQuery,
          sight,
          now,
        );
        yield writer.write(page.rows as Parameters<RowWriter['write']>[0]);
        rows += page.rows.length;
        after = page.next ?? undefined;
      } while (after !== undefined);
    } finally {
      // Also when whoever reads it leaves in the middle: that part has left the workbench.
      await this.trail.add({
        actor: by,
        action: 'GET /incidents/export',
        target: `${query.listed} ${query.format}`,
        facts: { rows: String(rows), filter: (query.filter ?? '').slice(0, 500) },
      });
    }
  }

  private page(
    listed: ExportQuery['listed'],
    query: ListQuery,
    sight: Sight,
    now: Date,
  ): Promise<ListPage<unknown>> {
    switch (listed) {
      case 'incidents':
        return this.queue.incidents(query, sight, now);
      case 'matches':
        return this.queue.matches(query, sight, now);
      case 'movements':
        return this.queue.movements(query, sight, now);
    }
  }
}
