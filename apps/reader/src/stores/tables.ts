import { type OpenStore, type StoreContent, StoreFault, type StoreItem, type StoreOpening } from './store.js';

/** Rows of one piece: each is read, and judged, as a table of its own. */
const ROWS_A_PIECE = 5_000;
/** Rows of one table that are read at most; a larger one is sampled from its start, and its path says so. */
const MOST_ROWS = 200_000;
/** Longest value that is read of one cell, in characters. */
const LONGEST_CELL = 20_000;
/** A statement that takes longer is given up: the database belongs to others. */
const STATEMENT_MS = 60_000;

interface Table {
  readonly schema: string;
  readonly name: string;
  /** What the database believes; exact for none of them. */
  readonly rows: number;
  readonly bytes: number;
  readonly changed: string | null;
}

/** What differs between databases. */
interface Database {
  tables(): Promise<readonly Table[]>;
  columns(schema: string, table: string): Promise<readonly string[]>;
  rows(
    table: { schema: string; name: string },
    columns: readonly string[],
    from: number,
  ): Promise<readonly unknown[][]>;
  close(): Promise<void>;
}

/** The tables of a database: each piece of rows is an item, written as CSV under the names of its columns. */
export class TableStore implements OpenStore {
  private constructor(private readonly database: Database) {}

  /** `at` is `mariadb://host:port` or `postgresql://host:port`, `part` the database. */
  static async open({ address, secret }: StoreOpening): Promise<TableStore> {
    const found =
      /^(mariadb|mysql|postgresql|postgres):\/\/([\w.-]+|\[[\da-f:]+\])(?::(\d{1,5}))?\/?$/iu.exec(
        address.at.trim(),
      );
    if (!found || !address.part) throw new StoreFault('wrong-address');
    if (!address.user || secret === null) throw new StoreFault('no-secret');
    const way = {
      ...{ host: found[2] ?? '', user: address.user, password: secret, database: address.part },
      port: found[3] ? Number(found[3]) : null,
    };
    const isPostgres = (found[1] ?? '').toLowerCase().startsWith('postgres');
    return new TableStore(await (isPostgres ? openPostgres(way) : openMariadb(way)));
  }

  async *list(skips: (folder: string) => boolean): AsyncIterable<StoreItem> {
    for (const { schema, name, rows, bytes, changed } of await this.database.tables()) {
      const table = `${schema}/${name}`;
      if (skips(schema) || skips(table)) continue;
      const pieces = Math.max(1, Math.ceil(Math.min(rows, MOST_ROWS) / ROWS_A_PIECE));
      for (let piece = 0; piece < pieces; piece += 1)
        yield {
          path: `${table}/rows from ${piece * ROWS_A_PIECE + 1}.csv`,
          ...{ bytes: Math.round(bytes / pieces), changedAt: changed },
          marker: `${rows}-${bytes}-${changed ?? ''}`.slice(0, 200),
        };
    }
  }

  async content(path: string): Promise<StoreContent> {
    const found = /^([^/]+)\/(.+)\/rows from (\d+)\.csv$/u.exec(path);
    if (!found) return { kind: 'gone' };
    const [, schema = '', name = '', from = '1'] = found;
    const columns = await this.database.columns(schema, name);
    if (columns.length === 0) return { kind: 'gone' };
    try {
      const rows = await this.database.rows({ schema, name }, columns, Number(from) - 1);
      const lines = [columns, ...rows].map((row) => row.map(cellOf).join(','));
      return { kind: 'bytes', name: `${name}.csv`, bytes: Buffer.from(lines.join('\r\n')) };
    } catch {
      return { kind: 'unreadable', reason: 'not-allowed' };
    }
  }

  close(): Promise<void> {
    return this.database.close();
  }
}

/** A value as a field of CSV (RFC 4180). */
function cellOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  const text =
    value instanceof Date
      ? value.toISOString()
      : Buffer.isBuffer(value)
        ? value.toString('utf8')
        : typeof value === 'object'
          ? JSON.stringify(value)
          : String(value);
  const cut = text.slice(0, LONGEST_CELL);
  return /[",\r\n]/u.test(cut) ? `"${cut.replaceAll('"', '""')}"` : cut;
}

interface Way {
  readonly host: string;
  readonly port: number | null;
  readonly user: string;
  readonly password: string;
  readonly database: string;
}

async function openMariadb(way: Way): Promise<Database> {
  const { default: mysql } = await import('mysql2/promise');
  const { host, port, user, password, database } = way;
  const connection = await mysql
    .createConnection({ host, port: port ?? 3306, user, password, database, connectTimeout: 10_000 })
    .catch((error: NodeJS.ErrnoException) => {
      const problems: Record<string, StoreFault['problem']> = {
        ...{
          ER_ACCESS_DENIED_ERROR: 'wrong-secret',
          ER_DBACCESS_DENIED_ERROR: 'not-allowed',
          ER_BAD_DB_ERROR: 'no-such-place',
        },
      };
      throw new StoreFault(problems[error.code ?? ''] ?? 'not-reachable');
    });
  await connection.query(`SET SESSION max_statement_time = ${STATEMENT_MS / 1_000}`).catch(() => undefined);
  await connection.query('SET SESSION TRANSACTION READ ONLY');
  const query = async (sql: string, values: unknown[], asArray = false): Promise<unknown[]> => {
    const [rows] = await connection.query({ sql, values, rowsAsArray: asArray });
    return rows as unknown[];
  };
  const quoted = (name: string): string => `\`${name.replaceAll('`', '``')}\``;
  return {
    tables: async () =>
      (
        (await query(
          `SELECT table_schema AS s, table_name AS n, table_rows AS r, data_length AS b, update_time AS u
           FROM information_schema.tables WHERE table_schema = ? AND table_type = 'BASE TABLE' ORDER BY table_name`,
          [database],
        )) as Record<string, unknown>[]
      ).map(({ s, n, r, b, u }) => ({
        ...{ schema: String(s), name: String(n), rows: Number(r ?? 0), bytes: Number(b ?? 0) },
        changed: u instanceof Date ? u.toISOString() : null,
      })),
    columns: async (schema, table) =>
      (
        (await query(
          'SELECT column_name AS c FROM information_schema.columns WHERE table_schema = ? AND table_name = ? ORDER BY ordinal_position',
          [schema, table],
        )) as Record<string, unknown>[]
      ).map(({ c }) => String(c)),
    rows: async ({ schema, name }, columns, from) =>
      (await query(
        `SELECT ${columns.map(quoted).join(', ')} FROM ${quoted(schema)}.${quoted(name)} LIMIT ? OFFSET ?`,
        [ROWS_A_PIECE, from],
        true,
      )) as unknown[][],
    close: () => connection.end(),
  };
}

async function connectPostgres(way: Way) {
  const { default: pg } = await import('pg');
  const { host, port, user, password, database } = way;
  const client = new pg.Client({
    ...{ host, port: port ?? 5432, user, password, database },
    ...{ connectionTimeoutMillis: 10_000, statement_timeout: STATEMENT_MS },
  });
  client.on('error', () => undefined);
  try {
    await client.connect();
  } catch (error) {
    // Classes of SQLSTATE: 28 is authorization, 3D000 an unknown database (PostgreSQL, appendix A).
    const code = (error as { code?: string }).code ?? '';
    throw new StoreFault(
      code.startsWith('28') ? 'wrong-secret' : code === '3D000' ? 'no-such-place' : 'not-reachable',
    );
  }
  await client.query('SET SESSION CHARACTERISTICS AS TRANSACTION READ ONLY');
  return client;
}

async function openPostgres(way: Way): Promise<Database> {
  const client = await connectPostgres(way);
  const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`;
  return {
    tables: async () =>
      (
        await client.query<{ s: string; n: string; r: string; b: string }>(
          `SELECT n.nspname AS s, c.relname AS n, GREATEST(c.reltuples, 0) AS r, pg_total_relation_size(c.oid) AS b
           FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
           WHERE c.relkind IN ('r', 'p') AND n.nspname NOT LIKE 'pg\\_%' AND n.nspname <> 'information_schema'
             AND has_table_privilege(c.oid, 'SELECT')
           ORDER BY 1, 2`,
        )
      ).rows.map(({ s, n, r, b }) => ({
        schema: s,
        name: n,
        rows: Number(r),
        bytes: Number(b),
        changed: null,
      })),
    columns: async (schema, table) =>
      (
        await client.query<{ c: string }>(
          'SELECT column_name AS c FROM information_schema.columns WHERE table_schema = $1 AND table_name = $2 ORDER BY ordinal_position',
          [schema, table],
        )
      ).rows.map(({ c }) => c),
    rows: async ({ schema, name }, columns, from) =>
      (
        await client.query<unknown[]>({
          text: `SELECT ${columns.map(quoted).join(', ')} FROM ${quoted(schema)}.${quoted(name)} LIMIT $1 OFFSET $2`,
          values: [ROWS_A_PIECE, from],
          rowMode: 'array',
        })
      ).rows,
    close: () => client.end(),
  };
}
