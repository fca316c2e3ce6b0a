import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A running application with its address and database. */
export interface Running {
  readonly address: string;
  readonly smtp: number;
  readonly database: { host: string; port: number; user: string; password: string; database: string };
  readonly account: { email: string; password: string };
  stop(): Promise<void>;
}

/** The application as `npm start` runs it, empty, with its own database in a folder that goes afterwards. */
export async function startAll(): Promise<Running> {
  const lib = (name: string): string => new URL(`../../../scripts/lib/${name}.mjs`, import.meta.url).href;
  const { startDatabase } = (await import(lib('database'))) as {
    startDatabase: (
      folder: string,
      password: string,
    ) => Promise<Running['database'] & { stop(): Promise<void> }>;
  };
  const { startApplication } = (await import(lib('application'))) as {
    startApplication: (
      given: object,
    ) => Promise<{ accounts: { email: string; password: string }[]; stop(): Promise<void> }>;
  };
  const { readSecrets } = (await import(lib('secrets'))) as {
    readSecrets: (path: string) => { databasePassword: string };
  };
  const { freePort } = (await import(lib('processes'))) as { freePort: () => Promise<number> };
  const folder = mkdtempSync(join(tmpdir(), 'lantern-bench-'));
  mkdirSync(folder, { recursive: true });
  const secrets = readSecrets(join(folder, 'secrets.json'));
  const database = await startDatabase(folder, secrets.databasePassword);
  const [port, smtp] = [await freePort(), await freePort()];
  process.env['LANTERN_SMTP_PORT'] = String(smtp);
  process.env['LANTERN_POST_PORT'] = '0';
  const application = await startApplication({ port, database, folder, demo: 'none' });
  const [account] = application.accounts;
  if (!account) throw new Error('No account was made');
  return {
    address: `http://127.0.0.1:${port}`,
    smtp,
    database,
    account,
    stop: async () => {
      await application.stop();
      await database.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
