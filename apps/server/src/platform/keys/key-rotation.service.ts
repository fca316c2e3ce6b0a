import { setTimeout as wait } from 'node:timers/promises';
import type { KeysView } from '@lantern/contracts/retention';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { AppError } from '../errors/app-error.js';
import { newMasterKey, writeMasterKeys } from './key-file.js';
import type { WrappedKey } from './key-ring.js';

/** Data keys of one transaction. */
const AT_ONCE = 500;
/** A statement that was sent with the earlier master key has arrived by then. */
const SETTLE_MS = 2_000;
/** A failed pass is tried again so much later. */
const AGAIN_MS = 30_000;

/**
 * Changes the master key while the server runs: a new one is written into the file of secrets beside the old one, every
 * data key is wrapped anew, and only when none is left does the old one leave the file. A change that is cut off, by
 * whatever, goes on at the next start. No sealed value is touched.
 */
@Injectable()
export class KeyRotation implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('keys');
  private running: Promise<void> | null = null;
  private readonly stop = new AbortController();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  onApplicationBootstrap(): void {
    if (this.config.keys.all().length > 1) this.begin();
  }

  async onApplicationShutdown(): Promise<void> {
    this.stop.abort();
    await this.running;
  }

  async view(): Promise<KeysView> {
    const { newest } = this.config.keys;
    const [row]: { n: string; old: string | null }[] = await this.manager.query(
      'SELECT COUNT(*) AS n, SUM(master <> ?) AS old FROM data_key',
      [newest],
    );
    return {
      ...{ master: newest, dataKeys: Number(row?.n ?? 0), left: Number(row?.old ?? 0) },
      running: this.running !== null,
      canChange: this.config.secretsFile !== null,
    };
  }

  /** Begins a change; throws `act-refused` while one runs, and where the server does not hold the file of secrets. */
  async change(): Promise<KeysView> {
    const { secretsFile } = this.config;
    if (!secretsFile)
      throw new AppError(
        'act-refused',
        'The master key was given in the environment, so the server cannot change it. Nothing was changed.',
      );
    if (this.running)
      throw new AppError('act-refused', 'The master key is being changed already. Wait until that is done.');
    // Taken before anything is waited for: a second change at the same time would write over the key of the first.
    const extended = this.extend(secretsFile);
    this.begin(extended);
    await extended;
    return this.view();
  }

  private async extend(secretsFile: string): Promise<void> {
    const { keys } = this.config;
    const masters = [newMasterKey(), ...keys.all()];
    // The file first: a data key that is wrapped with a master key in memory alone would be lost with the process.
    await writeMasterKeys(secretsFile, masters);
    keys.use(masters);
  }

  /** Resolves when no change runs any more. */
  async done(): Promise<void> {
    await this.running;
  }

  /** Wraps data keys anew once `ready` resolves; does nothing where it rejects, which its caller handles. */
  private begin(ready: Promise<void> = Promise.resolve()): void {
    this.running ??= ready
      .then(
        () => this.run(),
        () => undefined,
      )
      .finally(() => (this.running = null));
  }

  private async run(): Promise<void> {
    while (!this.stop.signal.aborted)
      try {
        while ((await this.rewrapSome()) > 0) if (this.stop.signal.aborted) return;
        await wait(SETTLE_MS, null, { signal: this.stop.signal });
        if ((await this.rewrapSome()) > 0) continue;
        const { keys, secretsFile } = this.config;
        const masters = keys.all().slice(0, 1);
        if (secretsFile) await writeMasterKeys(secretsFile, masters);
        keys.use(masters);
        return;
      } catch (error) {
        if (this.stop.signal.aborted) return;
        this.log.error(`Changing the master key: ${error instanceof Error ? error.name : 'failed'}`);
        await wait(AGAIN_MS, null, { signal: this.stop.signal }).catch(() => undefined);
      }
  }

  /** Wraps some data keys anew and says how many. The locks wait for keys that are being kept in this moment. */
  private rewrapSome(): Promise<number> {
    const { keys } = this.config;
    return this.manager.transaction(async (manager) => {
      const rows: WrappedKey[] = await manager.query(
        `SELECT scope, wrapped, master FROM data_key WHERE master <> ? LIMIT ${AT_ONCE} FOR UPDATE`,
        [keys.newest],
      );
      for (const row of rows) {
        const { wrapped, master } = keys.rewrap(row);
        await manager.query('UPDATE data_key SET wrapped = ?, master = ? WHERE scope = ?', [
          ...[wrapped, master],
          row.scope,
        ]);
      }
      return rows.length;
    });
  }
}
