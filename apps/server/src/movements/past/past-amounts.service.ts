import { createHmac } from 'node:crypto';
import type { InspectedMovement, PastAmount } from '@lantern/core/movement';
import { LONGEST_WINDOW_HOURS, USUAL_DAYS } from '@lantern/core/movement';
import { certaintyFor, patternsOf } from '@lantern/core/detection';
import { goesOutside, type PolicySet, type WindowAsked, windowsAsked } from '@lantern/core/policy';
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';

const HOUR_MS = 3_600_000;
/** Values are kept as the first bytes of a keyed hash: two of a million differ in them but for one chance in 10^7. */
const HASH_BYTES = 8;
/** Beside each hash stands how certain the value is, so that rules may ask for any certainty. */
const ENTRY_BYTES = HASH_BYTES + 1;
/** Values below this certainty are not stored: rules do not ask for them. Common practice, no source. */
const LEAST_CERTAIN = 50;
/** Values hashed before others get their turn: some milliseconds of work. */
const HASHED_AT_ONCE = 2_000;
/** Kept values that no stretch reaches any more are deleted so often. */
const SWEEP_MS = HOUR_MS;

/** A day longer than the longest stretch. */
const KEPT_MS = (LONGEST_WINDOW_HOURS + 24) * HOUR_MS;

/** What one movement holds, hashed. */
export interface MovedValues {
  readonly movementId: string;
  readonly address: string;
  readonly at: Date;
  readonly values: readonly KeptValues[];
}

/** Values of one pattern in one movement, hashed. */
export interface KeptValues {
  readonly pattern: string;
  readonly hashes: Buffer;
}

/** Amounts that a person moved within the time windows of rules, from the database, so that restarts lose nothing. */
@Injectable()
export class PastAmounts implements OnApplicationBootstrap, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void this.sweep(new Date()).catch(() => undefined), SWEEP_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  /** Amounts before a movement, by `windowKey`; empty if no rule asks. Only allowed movements count. */
  async of(
    movement: InspectedMovement,
    set: Pick<PolicySet, 'policies'>,
  ): Promise<Pick<InspectedMovement, 'past'>> {
    const past: Record<string, PastAmount> = {};
    for (const asked of windowsAsked(set, movement.channel))
      past[asked.key] =
        asked.of === 'values' ? await this.values(movement, asked) : await this.amounts(movement, asked);
    return Object.keys(past).length > 0 ? { past } : {};
  }

  /**
   * The same for movements that are kept already, each before itself, by their ids. What went on only later counts as
   * having gone on, and values that are not kept any more count as none.
   */
  async before(
    ids: readonly string[],
    asked: readonly WindowAsked[],
  ): Promise<Map<string, Record<string, PastAmount>>> {
    const found = new Map<string, Record<string, PastAmount>>(ids.map((id) => [id, {}]));
    if (ids.length === 0) return found;
    for (const window of asked) {
      const amounts =
        window.of === 'values' ? await this.valuesBefore(ids, window) : await this.amountsBefore(ids, window);
      for (const [id, amount] of amounts) {
        const past = found.get(id);
        if (past) past[window.key] = amount;
      }
    }
    return found;
  }

  private async amountsBefore(
    ids: readonly string[],
    { of, over, hours, usual }: WindowAsked,
  ): Promise<[string, PastAmount][]> {
    const sum = `COALESCE(SUM(${AMOUNT_SQL[of as keyof typeof AMOUNT_SQL]}), 0)`;
    const scope = EARLIER_SCOPE_SQL[over];
    const within = (from: number, to: number): string =>
      `(SELECT ${sum} FROM movement p WHERE p.personAddress = m.personAddress AND p.id <> m.id AND p.wentOn = 1
        AND p.at > m.at - INTERVAL ${from} HOUR AND p.at <= m.at - INTERVAL ${to} HOUR${scope})`;
    const days = hours + USUAL_DAYS * 24;
    const rows = await this.manager.query<{ id: string; n: string; u: string }[]>(
      `SELECT m.id AS id, ${within(hours, 0)} AS n, ${usual ? within(days, hours) : '0'} AS u
       FROM movement m WHERE m.id IN (?)`,
      [[...ids]],
    );
    return rows.map(({ id, n, u }) => [
      id,
      { amount: Number(n), ...(usual ? { usual: (Number(u) * hours) / (USUAL_DAYS * 24) } : {}) },
    ]);
  }

  private async valuesBefore(
    ids: readonly string[],
    { pattern, certainty, over, hours }: WindowAsked,
  ): Promise<Map<string, PastAmount>> {
    const scope = EARLIER_SCOPE_SQL[over];
    const rows = await this.manager.query<{ id: string; isOwn: number; outside: number; hashes: Buffer }[]>(
      `SELECT m.id AS id, v.movementId = m.id AS isOwn, m.toOutside AS outside, v.hashes AS hashes
       FROM movement m
       JOIN moved_value v ON v.personAddress = m.personAddress AND v.pattern = ?
         AND v.at > m.at - INTERVAL ${hours} HOUR AND v.at <= m.at
       JOIN movement p ON p.id = v.movementId
       WHERE m.id IN (?) AND (p.id = m.id OR (p.wentOn = 1${scope}))`,
      [pattern, [...ids]],
    );
    const earlier = new Map<string, Set<bigint>>();
    const put = (isOwn: boolean) => {
      for (const { id, hashes, ...row } of rows) {
        if (Boolean(row.isOwn) !== isOwn) continue;
        // What stays inside adds nothing to what went outside, and so takes nothing away from it.
        if (isOwn && over === 'outside' && !row.outside) continue;
        const values = earlier.get(id) ?? new Set<bigint>();
        earlier.set(id, values);
        for (const value of valuesIn(hashes, certainty)) {
          if (isOwn) values.delete(value);
          else values.add(value);
        }
      }
    };
    put(false);
    put(true);
    return new Map([...earlier].map(([id, values]) => [id, { amount: values.size }]));
  }

  /** Keyed hashes of the values in a movement, by pattern, for later time windows. */
  async hashed({ parts, sender }: InspectedMovement): Promise<KeptValues[]> {
    const found = new Map<string, Map<string, number>>();
    for (const part of parts) {
      if (part.status !== 'read') continue;
      for (const finding of part.findings)
        for (const pattern of patternsOf(finding)) {
          const certainty = certaintyFor(finding, pattern);
          if (certainty < LEAST_CERTAIN) continue;
          const values = found.get(pattern) ?? new Map<string, number>();
          found.set(pattern, values);
          values.set(finding.canonical, Math.max(values.get(finding.canonical) ?? 0, certainty));
        }
    }
    const kept: KeptValues[] = [];
    let hashed = 0;
    for (const [pattern, values] of found) {
      const hashes = Buffer.alloc(values.size * ENTRY_BYTES);
      let at = 0;
      for (const [value, certainty] of values) {
        this.hash(sender.address, pattern, value).copy(hashes, at, 0, HASH_BYTES);
        hashes[at + HASH_BYTES] = certainty;
        at += ENTRY_BYTES;
        hashed += 1;
        if (hashed % HASHED_AT_ONCE === 0) await new Promise((resolve) => setImmediate(resolve));
      }
      kept.push({ pattern, hashes });
    }
    return kept;
  }

  /** Stores hashed values within the caller's transaction. Values too old for any window are skipped. */
  async keep(manager: EntityManager, moved: readonly MovedValues[]): Promise<void> {
    const since = Date.now() - KEPT_MS;
    const rows = moved.flatMap(({ movementId, address, at, values }) =>
      at.getTime() < since
        ? []
        : values.map(({ pattern, hashes }) => [movementId, pattern, address, at, hashes]),
    );
    if (rows.length === 0) return;
    await manager.query(
      `INSERT INTO moved_value (movementId, pattern, personAddress, at, hashes)
       VALUES ${rows.map(() => '(?, ?, ?, ?, ?)').join(', ')}`,
      rows.flat(),
    );
  }

  private async amounts(
    { sender, channel, at }: InspectedMovement,
    { of, over, hours, usual }: WindowAsked,
  ): Promise<PastAmount> {
    const sum = `COALESCE(SUM(${AMOUNT_SQL[of as keyof typeof AMOUNT_SQL]}), 0)`;
    const ask = async (from: number, to: number): Promise<number> => {
      const [row] = await this.manager.query<{ n: string }[]>(
        `SELECT ${sum} AS n FROM movement WHERE personAddress = ? AND at > ? AND at <= ? AND wentOn = 1${SCOPE_SQL[over]}`,
        [sender.address, new Date(from), new Date(to), ...(over === 'this-channel' ? [channel] : [])],
      );
      return Number(row?.n ?? 0);
    };
    const since = at - hours * HOUR_MS;
    const amount = await ask(since, at);
    if (!usual) return { amount };
    const before = await ask(since - USUAL_DAYS * 24 * HOUR_MS, since);
    return { amount, usual: (before * hours) / (USUAL_DAYS * 24) };
  }

  /** Number of distinct earlier values that are not in the movement itself. */
  private async values(movement: InspectedMovement, asked: WindowAsked): Promise<PastAmount> {
    const { pattern, certainty, over, hours } = asked;
    const { sender, channel, at } = movement;
    const rows = await this.manager.query<{ hashes: Buffer }[]>(
      `SELECT v.hashes AS hashes FROM moved_value v JOIN movement m ON m.id = v.movementId
       WHERE v.personAddress = ? AND v.pattern = ? AND v.at > ? AND v.at <= ? AND m.wentOn = 1${SCOPE_SQL[over]}`,
      [
        ...[sender.address, pattern, new Date(at - hours * HOUR_MS), new Date(at)],
        ...(over === 'this-channel' ? [channel] : []),
      ],
    );
    const before = new Set<bigint>();
    for (const { hashes } of rows) for (const value of valuesIn(hashes, certainty)) before.add(value);
    if (before.size === 0) return { amount: 0 };
    if (over === 'outside' && !goesOutside(movement)) return { amount: before.size };
    const own = (await this.hashed(movement)).find((each) => each.pattern === pattern)?.hashes;
    for (const value of own ? valuesIn(own, certainty) : []) before.delete(value);
    return { amount: before.size };
  }

  private hash(address: string, pattern: string, value: string): Buffer {
    return createHmac('sha256', this.config.keys.installation)
      .update(`moved value\n${address}\n${pattern}\n${value}`)
      .digest();
  }

  private async sweep(now: Date): Promise<void> {
    const before = new Date(now.getTime() - KEPT_MS);
    await this.manager.query('DELETE FROM moved_value WHERE at < ?', [before]);
  }
}

/** Hashed values of one movement that are so certain. */
function* valuesIn(hashes: Buffer, certainty: number): Generator<bigint> {
  for (let from = 0; from + ENTRY_BYTES <= hashes.length; from += ENTRY_BYTES)
    if ((hashes[from + HASH_BYTES] ?? 0) >= certainty) yield hashes.readBigUInt64BE(from);
}

/** Columns of `movement`; each movement's kilobytes are whole ones, as they are when it is judged. */
const AMOUNT_SQL = { movements: '1', kilobytes: 'CEIL(bytesMoved / 1024)', rows: 'rowsTaken' } as const;
const SCOPE_SQL = {
  'this-channel': ' AND channel = ?',
  'every-channel': '',
  outside: ' AND toOutside = 1',
} as const;
/** The same for an earlier movement `p` of a movement `m`. */
const EARLIER_SCOPE_SQL = {
  'this-channel': ' AND p.channel = m.channel',
  'every-channel': '',
  outside: ' AND p.toOutside = 1',
} as const;
