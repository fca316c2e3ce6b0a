import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** What the server is told when it starts. */
export interface Config {
  readonly port: number;
  readonly database: {
    readonly host: string;
    readonly port: number;
    readonly username: string;
    readonly password: string;
    readonly database: string;
  };
  /** AES-256 key for evidence and mail kept at rest; lives outside the database. */
  readonly evidenceKey: Buffer;
  readonly demo: 'merrow' | 'none';
  /** Folder that holds the files of places. */
  readonly places: string;
}

export const CONFIG = Symbol('config');

/** Reads the configuration; throws an Error that names the variable at fault. */
export function readConfig(environment: NodeJS.ProcessEnv): Config {
  const need = (name: string): string => {
    const value = environment[name];
    if (!value) throw new Error(`${name} is not set`);
    return value;
  };
  const evidenceKey = Buffer.from(need('LANTERN_EVIDENCE_KEY'), 'hex');
  if (evidenceKey.length !== 32) throw new Error('LANTERN_EVIDENCE_KEY must be 64 hexadecimal digits');
  const database = JSON.parse(need('LANTERN_DATABASE')) as Omit<Config['database'], 'password'>;
  return {
    port: Number(environment['PORT'] ?? 4600),
    database: { ...database, password: need('LANTERN_DATABASE_PASSWORD') },
    evidenceKey,
    demo: environment['LANTERN_DEMO'] === 'merrow' ? 'merrow' : 'none',
    places: environment['LANTERN_PLACES'] ?? join(tmpdir(), `lantern-places-${process.pid}`),
  };
}
