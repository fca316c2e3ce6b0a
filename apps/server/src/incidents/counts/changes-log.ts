import type { Connection, RowDataPacket } from 'mysql2/promise';

/** Numbers that were passed over and may still come: a transaction that took one earlier may commit later. */
const MOST_WAITED_FOR = 5_000;
/** Longer than any transaction of ours runs; a number that has not come by then was rolled back. */
const WAIT_FOR_MS = 30 * 60_000;

/** What changed since the last look; `start-anew` where part of it is gone, or where somebody asked for it. */
export type LogReading =
  { readonly kind: 'changed'; readonly ids: readonly string[] } | { readonly kind: 'start-anew' };

/** Reads the list of changes, each entry once, in whatever order transactions commit. */
export class ChangesLog {
  private last = 0;
  private rebuilt = 0;
  private readonly waitedFor = new Map<number, number>();

  constructor(private readonly connection: Connection) {}

  /** Begins behind what has been written down by now. */
  async begin(): Promise<void> {
    const [[row]] = await this.connection.query<RowDataPacket[]>(
      `SELECT rebuilt, COALESCE((SELECT MAX(seq) FROM counted_change), prunedTo) AS last,
        COALESCE((SELECT MAX(seq) FROM counted_change WHERE at <= NOW() - INTERVAL ? SECOND), prunedTo) AS settled
       FROM counted_state`,
      [WAIT_FOR_MS / 1_000],
    );
    this.rebuilt = Number(row?.['rebuilt'] ?? 0);
    this.last = Number(row?.['last'] ?? 0);
    this.waitedFor.clear();
    // Transactions that are open now may hold numbers below the last one.
    const now = Date.now();
    const settled = Math.max(Number(row?.['settled'] ?? 0), this.last - MOST_WAITED_FOR / 2);
    for (let seq = settled + 1; seq <= this.last; seq += 1) this.waitedFor.set(seq, now);
  }

  /** Everything that was committed since; one statement, so that it is one instant. */
  async read(now = Date.now()): Promise<LogReading> {
    const waited = [...this.waitedFor.keys()];
    const [found] = await this.connection.query<RowDataPacket[][]>({
      sql: `SELECT prunedTo, rebuilt, NULL FROM counted_state
        UNION ALL SELECT seq, 0, CAST(movementId AS CHAR) FROM counted_change WHERE seq > ?
        ${waited.length > 0 ? `UNION ALL SELECT seq, 0, CAST(movementId AS CHAR) FROM counted_change WHERE seq IN (${waited.join(', ')})` : ''}`,
      values: [this.last],
      rowsAsArray: true,
    });
    const [state, ...entries] = found as unknown as [number, number, string | null][];
    if (!state || Number(state[0]) > this.last || Number(state[1]) !== this.rebuilt)
      return { kind: 'start-anew' };
    const seen = new Set(entries.map(([seq]) => Number(seq)));
    // One by one: a bulk decision leaves more entries than a call takes arguments.
    const highest = entries.reduce((most, [seq]) => Math.max(most, Number(seq)), this.last);
    if (highest - this.last - seen.size > MOST_WAITED_FOR) return { kind: 'start-anew' };
    for (const [seq, since] of this.waitedFor)
      if (seen.has(seq) || now - since > WAIT_FOR_MS) this.waitedFor.delete(seq);
    for (let seq = this.last + 1; seq <= highest; seq += 1) if (!seen.has(seq)) this.waitedFor.set(seq, now);
    this.last = highest;
    if (this.waitedFor.size > MOST_WAITED_FOR * 2) return { kind: 'start-anew' };
    return { kind: 'changed', ids: [...new Set(entries.flatMap(([, , id]) => (id === null ? [] : [id])))] };
  }
}
